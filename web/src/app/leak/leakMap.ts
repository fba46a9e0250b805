import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { LeakRow } from '@grellin/contract';
import { gradeInWords, grades, type Grade } from '@grellin/core';
import { SelectModule } from 'primeng/select';
import { StationDay } from '../account/stationDay';
import { Api, problemOf } from '../api/api';
import { outlineOfClass, outlines } from '../bench/stage/outlines';

/** The drawing's size. */
const WIDTH = 640;
const HEIGHT = 450;

/**
 * Where an item leaks: its drawing with every leak numbered, and a tap that marks another one. Without a drawing of the class the place is said in words
 * alone.
 */
@Component({
  selector: 'gr-leak-map',
  imports: [FormsModule, SelectModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (outline(); as o) {
      <svg
        [attr.viewBox]="box"
        role="img"
        [attr.aria-label]="o.title + ', ' + drawn().length + ' leaks marked'"
        [class.marking]="run() !== null"
        (click)="tap($event)"
        (keydown)="nudge($event)"
        [attr.tabindex]="run() === null ? null : 0"
      >
        @for (d of o.paths; track $index) {
          <path class="line" [attr.d]="d" />
        }
        @for (d of o.thin; track $index) {
          <path class="thin" [attr.d]="d" />
        }
        @for (c of o.captions; track c.text) {
          <text class="caption" [attr.x]="c.x" [attr.y]="c.y">{{ c.text }}</text>
        }
        @for (l of drawn(); track l.number) {
          <g [class.closed]="l.closed">
            <circle [attr.cx]="l.x" [attr.cy]="l.y" r="15" />
            <text [attr.x]="l.x" [attr.y]="l.y + 5">{{ l.number }}</text>
          </g>
        }
        @if (mark(); as m) {
          <path class="cross" [attr.d]="'M' + (m.x - 12) + ' ' + m.y + 'h24M' + m.x + ' ' + (m.y - 12) + 'v24'" />
        }
      </svg>
    }
    @if (run() !== null) {
      <form (ngSubmit)="save()">
        <label i18n for="leak-place">Where it leaks{{ outline() ? ': tap the drawing, and say it' : '' }}</label>
        <input id="leak-place" name="place" autocomplete="off" maxlength="200" [ngModel]="place()" (ngModelChange)="place.set($event)" />
        <label i18n for="leak-grade">How hard it bubbles</label>
        <p-select
          inputId="leak-grade"
          name="grade"
          [options]="$any(choices)"
          optionLabel="title"
          optionValue="id"
          [ngModel]="grade()"
          (ngModelChange)="grade.set($event)"
          appendTo="body"
        />
        <button i18n type="submit" [disabled]="place().trim() === '' || busy()">Mark it</button>
        @if (problem(); as p) {
          <p role="alert">{{ p }}</p>
        }
      </form>
    }
    <ol>
      @for (l of leaks(); track l.id) {
        <li [value]="l.number" [class.closed]="l.closedAt !== null">
          {{ l.place }}: {{ words(l.grade) }}
          <span i18n class="faint">found {{ day.of(l.foundAt) }} by {{ l.by }}{{ l.closedAt ? '; proved tight ' + day.of(l.closedAt) : '' }}</span>
        </li>
      } @empty {
        <li i18n class="none">No leak is marked.</li>
      }
    </ol>
  `,
  styles: `
    svg {
      width: 100%;
      max-height: 23.75rem;
    }
    svg.marking {
      cursor: crosshair;
    }
    .line,
    .thin,
    .cross {
      fill: none;
      stroke: var(--ink);
      stroke-width: 3;
      stroke-linejoin: round;
    }
    .thin {
      stroke: var(--faint);
      stroke-width: 1.5;
    }
    .cross {
      stroke: var(--leaks);
    }
    .caption {
      font: 500 var(--type-small) var(--text);
      fill: var(--faint);
      text-anchor: middle;
    }
    circle {
      fill: var(--panel);
      stroke: var(--leaks);
      stroke-width: 4;
      stroke-dasharray: 80 14;
    }
    .closed circle {
      stroke: var(--tight);
      stroke-dasharray: none;
    }
    g text {
      font: 700 var(--type-small) var(--figures);
      fill: var(--ink);
      text-anchor: middle;
    }
    form {
      display: flex;
      flex-direction: column;
      gap: var(--space-1);
    }
    label {
      font-weight: 600;
      margin-top: var(--space-2);
    }
    input,
    select,
    button {
      font: 400 var(--type-body) var(--text);
      min-height: 2.875rem;
      border: var(--line) solid var(--faint);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
      padding: 0 var(--space-3);
    }
    button {
      margin-top: var(--space-2);
      border-color: var(--accent);
      color: var(--accent);
      font-weight: 600;
    }
    ol {
      padding-left: var(--space-6);
    }
    li {
      padding: var(--space-1) 0;
    }
    li .faint {
      display: block;
      font-size: var(--type-label);
    }
    li.closed {
      color: var(--faint);
    }
    li.none {
      list-style: none;
      margin-left: calc(-1 * var(--space-6));
      color: var(--faint);
    }
    p {
      color: var(--leaks);
    }
  `,
})
export class LeakMap {
  protected readonly day = inject(StationDay);
  private readonly api = inject(Api);
  readonly kind = input.required<string>();
  readonly leaks = input.required<readonly LeakRow[]>();
  /** The run that failed: leaks can be marked for it; null where they are only shown. */
  readonly run = input<string | null>(null);
  readonly marked = output();
  protected readonly box = `0 0 ${String(WIDTH)} ${String(HEIGHT)}`;
  protected readonly choices = grades.filter((g) => g !== 'none').map((id) => ({ id, title: gradeInWords(id) }));
  private readonly outlineId = computed(() => outlineOfClass[this.kind()] ?? null);
  protected readonly outline = computed(() => (this.outlineId() === null ? null : (outlines[this.outlineId() ?? ''] ?? null)));
  protected readonly mark = signal<{ readonly x: number; readonly y: number } | null>(null);
  protected readonly place = signal('');
  protected readonly grade = signal<Grade>('stream');
  protected readonly busy = signal(false);
  protected readonly problem = signal<string | null>(null);
  /** Leaks that have a place on the drawing: where they were tapped, or where their route has them. */
  protected readonly drawn = computed(() =>
    this.leaks().flatMap((l) => {
      const at = l.x !== null && l.y !== null ? { x: l.x * WIDTH, y: l.y * HEIGHT } : this.routed(l);
      return at ? [{ number: l.number, closed: l.closedAt !== null, ...at }] : [];
    }),
  );

  private routed(l: LeakRow): { readonly x: number; readonly y: number } | null {
    const places = Object.entries(this.outline()?.places ?? {});
    const found = places.find(([id]) => l.place.toLowerCase().includes(id.replace(/-/g, ' ')));
    return found ? { x: found[1][0], y: found[1][1] } : null;
  }

  protected words(grade: Grade): string {
    return gradeInWords(grade);
  }

  protected tap(event: MouseEvent): void {
    if (this.run() === null || !(event.currentTarget instanceof SVGSVGElement)) return;
    const matrix = event.currentTarget.getScreenCTM();
    if (!matrix) return;
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
    this.mark.set({ x: Math.min(WIDTH, Math.max(0, point.x)), y: Math.min(HEIGHT, Math.max(0, point.y)) });
  }

  /** With the keyboard the mark is moved by the arrows, from the middle of the drawing. */
  protected nudge(event: KeyboardEvent): void {
    const step = { ArrowLeft: [-8, 0], ArrowRight: [8, 0], ArrowUp: [0, -8], ArrowDown: [0, 8] }[event.key];
    if (this.run() === null || !step) return;
    event.preventDefault();
    const from = this.mark() ?? { x: WIDTH / 2, y: HEIGHT / 2 };
    this.mark.set({ x: Math.min(WIDTH, Math.max(0, from.x + (step[0] ?? 0))), y: Math.min(HEIGHT, Math.max(0, from.y + (step[1] ?? 0))) });
  }

  protected save(): void {
    const run = this.run();
    const place = this.place().trim();
    if (run === null || place === '') return;
    const m = this.mark();
    const share = (v: number, of: number): number => Number((v / of).toFixed(4));
    this.busy.set(true);
    this.problem.set(null);
    this.api
      .markLeak({ run, outline: m ? this.outlineId() : null, x: m ? share(m.x, WIDTH) : null, y: m ? share(m.y, HEIGHT) : null, place, grade: this.grade() })
      .subscribe({
        next: () => {
          this.busy.set(false);
          this.place.set('');
          this.mark.set(null);
          this.marked.emit();
        },
        error: (e: unknown) => {
          this.busy.set(false);
          this.problem.set(problemOf(e).message);
        },
      });
  }
}
