import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** How this device writes the end of the whole number. */
const POINT = new Intl.NumberFormat().formatToParts(1.5).find((p) => p.type === 'decimal')?.value ?? '.';

interface Key {
  readonly shows: string;
  /** What it is, for whoever does not see it. */
  readonly says: string;
  readonly does: (text: string) => string;
}

const writes = (sign: string, says = sign): Key => ({ shows: sign, says, does: (text) => text + sign });

/** What a number that is not to be typed twice begins with goes; a sign turns over. */
const signed = (text: string): string => (text.startsWith('−') ? text.slice(1) : `−${text}`);

/**
 * Keys for figures that a glove hits: digits, the point, the sign, and what a fraction is written with. They write into a field that stays where it is, and what is
 * meant by it is asked there as of anything that is typed.
 */
@Component({
  selector: 'gr-keypad',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="pad" role="group" aria-label="Keypad" i18n-aria-label (pointerdown)="$event.preventDefault()">
      @if (last(); as l) {
        <button type="button" class="last" (click)="again.emit()">
          <ng-container i18n>Same again:</ng-container>&ngsp;<strong>{{ l }}</strong>
        </button>
      }
      <button i18n type="button" class="close" (click)="closed.emit()">Close</button>
      @for (k of keys; track k.shows) {
        <button type="button" class="key" [attr.aria-label]="k.says" (click)="typed.emit(k.does(text()))">{{ k.shows }}</button>
      }
      <button i18n type="button" class="write" [disabled]="text().trim() === ''" (click)="done.emit()">Write it down</button>
    </div>
  `,
  styleUrl: './keypad.css',
})
export class Keypad {
  /** What stands in the field. */
  readonly text = input.required<string>();
  /** The value that was typed last for this gauge, in words. */
  readonly last = input<string | null>(null);
  readonly typed = output<string>();
  readonly again = output();
  readonly done = output();
  readonly closed = output();

  protected readonly keys: readonly Key[] = [
    ...['7', '8', '9'].map((d) => writes(d)),
    { shows: '⌫', says: $localize`delete`, does: (text) => text.slice(0, -1) },
    ...['4', '5', '6'].map((d) => writes(d)),
    { shows: '±', says: $localize`minus`, does: signed },
    ...['1', '2', '3'].map((d) => writes(d)),
    writes('/', $localize`over, for a fraction`),
    writes(POINT, $localize`point`),
    writes('0'),
    { shows: '␣', says: $localize`space, before a fraction`, does: (text) => (text === '' || text.endsWith(' ') ? text : `${text} `) },
    { shows: 'C', says: $localize`empty the field`, does: () => '' },
  ];
}
