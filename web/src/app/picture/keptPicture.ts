import { ChangeDetectionStrategy, Component, effect, inject, input, signal } from '@angular/core';
import { Api } from '../api/api';
import { pictureAddress } from './pictureMaker';

/** A picture that is kept, wherever it lies: at the server, or on this device while it is away. */
@Component({
  selector: 'gr-kept-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (address(); as a) {
      <img [src]="a" [alt]="says()" />
    } @else if (gone()) {
      <p i18n class="faint">This picture cannot be fetched.</p>
    } @else {
      <p i18n class="faint" role="status">Fetching the picture…</p>
    }
  `,
  styles: `
    img {
      display: block;
      width: 100%;
      max-height: 20rem;
      object-fit: contain;
      background: var(--soft);
      border-radius: var(--radius);
    }
  `,
})
export class KeptPicture {
  private readonly api = inject(Api);
  readonly sha256 = input.required<string>();
  /** What it shows, for whoever does not see it. */
  readonly says = input.required<string>();
  protected readonly address = signal<string | null>(null);
  protected readonly gone = signal(false);

  constructor() {
    effect((cleanUp) => {
      const asked = this.api.picture(this.sha256()).subscribe({
        next: (bytes) => this.address.set(pictureAddress(bytes)),
        error: () => this.gone.set(true),
      });
      cleanUp(() => asked.unsubscribe());
    });
  }
}
