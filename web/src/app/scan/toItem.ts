import { ChangeDetectionStrategy, Component, effect, inject, input, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { Api, problemOf } from '../api/api';
import { plainSerial } from './scannedCode';

/** Where the link on a label leads: to its item, or to what the register has of that serial where that is not one. */
@Component({
  selector: 'gr-to-item',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      @if (problem(); as p) {
        <h1 i18n>No item of this label</h1>
        <p role="alert">{{ p }}</p>
        <a i18n routerLink="/register" [queryParams]="{ q: serial() ?? tag() }">Look for it in the register</a>
      } @else {
        <h1 i18n>To the item of this label</h1>
        <p i18n role="status">Looking it up…</p>
      }
    </div>
  `,
})
export class ToItem {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  readonly tag = input<string>();
  readonly serial = input<string>();
  protected readonly problem = signal<string | null>(null);

  constructor() {
    effect(() => {
      const [serial, tag] = [this.serial() ?? '', this.tag() ?? ''];
      if (serial.trim() === '' && tag.trim() === '') {
        this.problem.set($localize`This label says neither a tag nor a serial.`);
        return;
      }
      this.api.assets({ q: serial === '' ? tag : serial, limit: '20' }).subscribe({
        next: ({ rows }) => {
          // A tag can be given to another item one day; the serial stays with this one.
          const said = serial === '' ? tag : serial;
          const meant = rows.filter((a) => plainSerial(a.serial) === plainSerial(said));
          const only =
            meant.length === 1 ? meant[0] : (meant.length > 1 ? meant : rows).find((a) => plainSerial(a.tag) === plainSerial(tag === '' ? said : tag));
          if (only) void this.router.navigate(['/register', only.id], { replaceUrl: true });
          else this.problem.set($localize`The register has no item with the serial ${serial === '' ? tag : serial}:serial:.`);
        },
        error: (e: unknown) => this.problem.set(problemOf(e).message),
      });
    });
  }
}
