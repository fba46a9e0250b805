import { ChangeDetectionStrategy, Component, DestroyRef, DOCUMENT, ElementRef, inject, signal, viewChild } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Router } from '@angular/router';
import type { AssetRow } from '@grellin/contract';
import { catchError, debounceTime, map, of, Subject, switchMap } from 'rxjs';
import { Api } from '../api/api';
import { ScanKey } from '../scan/scanKey';
import { scannedCode, type ScannedCode } from '../scan/scannedCode';
import { Wedge } from '../scan/wedge';

/** A person types faster than a server should be asked. */
const SETTLE_MS = 120;

/** Jumps to an asset by tag, serial or place. `/` puts the cursor here. */
@Component({
  selector: 'gr-find-box',
  imports: [ScanKey],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="box" role="search">
      <input
        #box
        type="search"
        placeholder="Find a tag, serial or place"
        i18n-placeholder
        aria-label="Find a tag, serial or place"
        i18n-aria-label
        role="combobox"
        aria-controls="found"
        aria-autocomplete="list"
        [attr.aria-expanded]="found().length > 0"
        [attr.aria-activedescendant]="found().length > 0 ? 'found-' + at() : null"
        [value]="text()"
        (input)="typed(box.value)"
        (keydown)="key($event)"
        (blur)="leave()"
      />
      <kbd aria-hidden="true">/</kbd>
      <gr-scan-key [within]="true" (scanned)="scanned($event)" />
    </div>
    @if (text().trim() !== '') {
      <ul id="found" role="listbox" aria-label="Found" i18n-aria-label>
        @for (asset of found(); track asset.id; let i = $index) {
          <li [id]="'found-' + i" role="option" [attr.aria-selected]="i === at()" [class.at]="i === at()" (mousedown)="go(asset)">
            <span class="tag">{{ asset.tag }}</span> {{ asset.title }} <span class="faint">{{ asset.serial }} · {{ asset.place }}</span>
          </li>
        } @empty {
          <li i18n role="option" aria-selected="false" class="faint">Nothing of that name</li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: block;
      width: min(20rem, 100%);
    }
    .box {
      display: flex;
      align-items: center;
      gap: var(--space-2);
      border: var(--line) solid var(--faint);
      border-radius: var(--radius);
      background: var(--panel);
      padding-right: var(--space-2);
    }
    .box:focus-within {
      outline: var(--strong-edge) solid var(--accent);
    }
    input {
      flex: 1;
      min-width: 0;
      border: 0;
      background: none;
      color: inherit;
      font: inherit;
      padding: 0 var(--space-3);
      height: var(--touch);
      outline: none;
    }
    input::placeholder {
      color: var(--faint);
    }
    ul {
      position: absolute;
      inset: calc(100% + var(--space-1)) 0 auto auto;
      width: min(26rem, calc(100vw - 2 * var(--gutter)));
      margin: 0;
      padding: var(--space-1);
      list-style: none;
      background: var(--panel);
      border: var(--line) solid var(--rule);
      border-radius: var(--radius);
      box-shadow: var(--lifted);
    }
    li {
      padding: var(--space-2) var(--space-3);
      cursor: pointer;
    }
    @media (width < 37.5rem) {
      :host {
        width: 100%;
      }
      kbd {
        display: none;
      }
    }
    li.at {
      background: var(--soft);
    }
  `,
})
export class FindBox {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly text = signal('');
  protected readonly at = signal(0);
  protected readonly found = signal<readonly AssetRow[]>([]);
  private readonly asked = new Subject<string>();

  constructor() {
    this.asked
      .pipe(
        debounceTime(SETTLE_MS),
        switchMap((q) =>
          q === ''
            ? of([])
            : this.api.assets({ q, limit: '8' }).pipe(
                map((p) => p.rows),
                catchError(() => of([])),
              ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((rows) => this.found.set(rows));
    const document = inject(DOCUMENT);
    const slash = (event: KeyboardEvent): void => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      if (event.key !== '/' || target?.matches('input, textarea, select')) return;
      event.preventDefault();
      this.box().nativeElement.focus();
    };
    const wedge = new Wedge();
    const scanner = (event: KeyboardEvent): void => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      if (target?.matches('input, textarea, select') || event.defaultPrevented) return;
      const heard = wedge.heard(event.key, event.timeStamp);
      if (typeof heard !== 'object') return;
      // Its Enter would press whatever stands in focus.
      event.preventDefault();
      this.scanned(scannedCode(heard.scanned));
    };
    document.addEventListener('keydown', slash);
    document.addEventListener('keydown', scanner);
    inject(DestroyRef).onDestroy(() => {
      document.removeEventListener('keydown', slash);
      document.removeEventListener('keydown', scanner);
    });
  }

  protected typed(value: string): void {
    this.text.set(value);
    this.at.set(0);
    this.asked.next(value.trim());
  }

  protected key(event: KeyboardEvent): void {
    const last = this.found().length - 1;
    if (event.key === 'ArrowDown') this.at.update((i) => Math.min(last, i + 1));
    else if (event.key === 'ArrowUp') this.at.update((i) => Math.max(0, i - 1));
    else if (event.key === 'Escape') this.leave();
    else if (event.key === 'Enter') {
      const asset = this.found()[this.at()];
      // A scanner that types ends with Enter before the server has answered: what it read is looked up by itself.
      if (asset) this.go(asset);
      else if (this.text().trim() !== '') this.scanned(scannedCode(this.text()));
    } else return;
    event.preventDefault();
  }

  protected scanned({ serial, tag }: ScannedCode): void {
    this.leave();
    void this.router.navigate(['/to'], { queryParams: { serial, ...(tag === null ? {} : { tag }) } });
  }

  protected go(asset: AssetRow): void {
    this.leave();
    void this.router.navigate(['/register', asset.id]);
  }

  protected leave(): void {
    this.text.set('');
    this.found.set([]);
  }
}
