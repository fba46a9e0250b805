import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { TRACE_S, type ColumnsView, type ColumnView } from './columnView';

/** Drawing area: the trace on the left, the column on the right, one scale for both. */
const WIDTH = 520;
const HEIGHT = 400;
const TOP = 20;
const BOTTOM = 380;
const COLUMN = 380;
const COLUMN_WIDTH = 46;
const TRACE_LEFT = 10;

interface Drawn extends Omit<ColumnView, 'bands' | 'lines' | 'ticks' | 'trace'> {
  readonly bands: readonly { readonly y: number; readonly height: number; readonly label: string; readonly kind: string; readonly labelY: number }[];
  readonly lines: readonly { readonly y: number; readonly label: string }[];
  readonly ticks: readonly { readonly y: number; readonly label: string }[];
  readonly needle: number | null;
  readonly path: string;
}

/** Gauges drawn as columns with the windows on them, and the last minute and a half beside each: the needle's steadiness can be seen. */
@Component({
  selector: 'gr-columns',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (view().watch; as w) {
      <p class="watch" role="timer" [class.running]="w.running">
        <span>{{ w.label }}</span> <strong>{{ w.shown }}</strong>
      </p>
    }
    <div class="row">
      @for (c of drawn(); track c.channel) {
        <figure>
          <figcaption>{{ c.title }}, {{ c.unit }}</figcaption>
          <svg [attr.viewBox]="box" role="img" [attr.aria-label]="c.title + (c.value === null ? '' : ', now ' + shown(c.value) + ' ' + c.unit)">
            @for (b of c.bands; track $index) {
              <rect [attr.class]="b.kind" [attr.x]="left" [attr.width]="column + columnWidth - left" [attr.y]="b.y" [attr.height]="b.height" />
            }
            @for (t of c.ticks; track t.y) {
              <line class="tick" [attr.x1]="left" [attr.x2]="column" [attr.y1]="t.y" [attr.y2]="t.y" />
              <text class="label" [attr.x]="column + columnWidth + 10" [attr.y]="t.y + 5">{{ t.label }}</text>
            }
            <rect class="tube" [attr.x]="column" [attr.width]="columnWidth" [attr.y]="top" [attr.height]="bottom - top" />
            @if (c.needle !== null) {
              <rect class="fill" [attr.x]="column" [attr.width]="columnWidth" [attr.y]="c.needle" [attr.height]="bottom - c.needle" />
            }
            @for (l of c.lines; track l.y) {
              <line class="mark" [attr.x1]="left" [attr.x2]="column + columnWidth" [attr.y1]="l.y" [attr.y2]="l.y" />
              <text class="words" [attr.x]="left + 4" [attr.y]="l.y - 6">{{ l.label }}</text>
            }
            @for (b of c.bands; track $index) {
              <text class="words" [attr.x]="left + 4" [attr.y]="b.labelY">{{ b.label }}</text>
            }
            <path class="trace" [attr.d]="c.path" />
            @if (c.needle !== null) {
              <path class="needle" [attr.d]="'M' + (column - 14) + ' ' + c.needle + 'h' + (columnWidth + 28)" />
            }
          </svg>
        </figure>
      }
    </div>
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      flex: 1;
      min-height: 0;
    }
    .row {
      display: flex;
      gap: var(--space-6);
      flex: 1;
      min-height: 0;
    }
    figure {
      flex: 1;
      min-width: 0;
      margin: 0;
      display: flex;
      flex-direction: column;
    }
    figcaption {
      font-weight: 600;
      color: var(--faint);
    }
    svg {
      flex: 1;
      min-height: 0;
      max-height: 32.5rem;
      width: 100%;
    }
    .wanted {
      fill: var(--wedge);
      stroke: var(--tight);
      stroke-width: 2;
    }
    .allowed {
      fill: var(--wedge);
      opacity: 0.75;
    }
    .tick {
      stroke: var(--rule);
    }
    .label {
      font: 400 var(--type-small) var(--figures);
      fill: var(--faint);
    }
    .words {
      font: 600 var(--type-small) var(--text);
      fill: var(--ink);
    }
    .tube {
      fill: none;
      stroke: var(--ink);
      stroke-width: 2;
    }
    .fill {
      fill: var(--accent);
      opacity: 0.28;
    }
    .mark {
      stroke: var(--ink);
      stroke-width: 2;
      stroke-dasharray: 7 5;
    }
    .trace {
      fill: none;
      stroke: var(--ink);
      stroke-width: 3;
    }
    .needle {
      stroke: var(--ink);
      stroke-width: 6;
    }
    .watch {
      display: flex;
      gap: var(--space-4);
      align-items: baseline;
      font-size: var(--type-lead);
    }
    .watch strong {
      font: 700 2.5rem var(--figures);
    }
    .running strong {
      color: var(--accent);
    }
  `,
})
export class Columns {
  readonly view = input.required<ColumnsView>();
  protected readonly box = `0 0 ${String(WIDTH)} ${String(HEIGHT)}`;
  protected readonly left = TRACE_LEFT;
  protected readonly column = COLUMN;
  protected readonly columnWidth = COLUMN_WIDTH;
  protected readonly top = TOP;
  protected readonly bottom = BOTTOM;
  protected readonly drawn = computed(() => this.view().columns.map(drawn));

  protected shown(value: number): string {
    return String(Number(value.toPrecision(4)));
  }
}

/** Where everything of a column lies in the drawing. */
function drawn(c: ColumnView): Drawn {
  const y = (value: number): number => Number((BOTTOM - ((value - c.low) / (c.high - c.low)) * (BOTTOM - TOP)).toFixed(1));
  const x = (seconds: number): number => Number((COLUMN - 6 + (seconds / TRACE_S) * (COLUMN - 6 - TRACE_LEFT)).toFixed(1));
  return {
    ...c,
    bands: c.bands.map((b) => ({
      y: y(b.high),
      height: Math.max(3, y(b.low) - y(b.high)),
      label: b.label,
      kind: b.kind,
      labelY: y(b.high) > TOP + 20 ? y(b.high) - 6 : Math.max(y(b.high) + 16, TOP + 14),
    })),
    lines: c.lines.map((l) => ({ y: y(l.value), label: l.label })),
    ticks: c.ticks.map((t) => ({ y: y(t), label: String(t) })),
    needle: c.value === null ? null : Math.min(BOTTOM, Math.max(TOP, y(c.value))),
    path: c.trace.map(([at, value], i) => `${i === 0 ? 'M' : 'L'}${String(x(at))} ${String(y(value))}`).join(''),
  };
}
