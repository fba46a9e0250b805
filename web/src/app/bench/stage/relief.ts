import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { TraceAnalyst } from './traceAnalyst';
import type { LiftView, ReliefView } from './reliefView';

const WIDTH = 300;
const HEIGHT = 330;
const TOP = 34;
const BOTTOM = 300;

interface Found {
  readonly crack: number;
  readonly crackAt: number;
  readonly reseat: number | null;
  readonly reseatAt: number | null;
  readonly times: number;
}

/** The lifts of a valve side by side: each with its trace, and where it cracked and reseated once the worker has found them. */
@Component({
  selector: 'gr-relief',
  providers: [TraceAnalyst],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (lift of drawn(); track lift.k) {
      <figure [class]="lift.state">
        <figcaption i18n>Lift {{ lift.k }}</figcaption>
        <svg [attr.viewBox]="box" role="img" [attr.aria-label]="'Lift ' + lift.k + ': ' + lift.words">
          @if (lift.band; as b) {
            <rect class="allowed" x="0" [attr.width]="width" [attr.y]="b.y" [attr.height]="b.height" />
          }
          <line class="set" x1="0" [attr.x2]="width" [attr.y1]="lift.setY" [attr.y2]="lift.setY" />
          <text i18n class="words" x="4" [attr.y]="lift.setY - 5">set {{ view().set }}</text>
          <path class="trace" [attr.d]="lift.path" />
          @for (p of lift.points; track p.name) {
            <circle [attr.cx]="p.x" [attr.cy]="p.y" r="8" />
            <text class="words" [attr.x]="p.x + p.side * 14" [attr.y]="p.y + (p.name === 'crack' ? -14 : 26)" [attr.text-anchor]="p.side > 0 ? 'start' : 'end'">
              {{ p.name }}
            </text>
          }
          <text class="faint" x="4" [attr.y]="height - 6">{{ lift.span }}</text>
        </svg>
        <p>{{ lift.words }}</p>
      </figure>
    }
  `,
  styles: `
    :host {
      display: flex;
      gap: var(--space-4);
      flex: 1;
      min-height: 0;
    }
    figure {
      flex: 1;
      min-width: 0;
      margin: 0;
      border-top: var(--space-1) solid var(--rule);
      padding-top: var(--space-2);
    }
    figure.here {
      border-color: var(--accent);
    }
    figure.done {
      border-color: var(--ink);
    }
    figcaption {
      font-weight: 600;
    }
    svg {
      width: 100%;
    }
    .allowed {
      fill: var(--wedge);
    }
    .set {
      stroke: var(--faint);
      stroke-dasharray: 6 5;
    }
    .trace {
      fill: none;
      stroke: var(--ink);
      stroke-width: 2.5;
    }
    circle {
      fill: var(--panel);
      stroke: var(--accent);
      stroke-width: 4;
    }
    .words {
      font: 600 var(--type-label) var(--text);
      fill: var(--ink);
    }
    .faint {
      font: 400 var(--type-fine) var(--figures);
      fill: var(--faint);
    }
    p {
      font-weight: 500;
      min-height: 3em;
    }
  `,
})
export class Relief {
  readonly view = input.required<ReliefView>();
  private readonly analyst = inject(TraceAnalyst);
  private readonly found = signal<Readonly<Record<string, Found | 'nothing'>>>({});
  private readonly asked = new Set<string>();
  protected readonly box = `0 0 ${String(WIDTH)} ${String(HEIGHT)}`;
  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  protected readonly drawn = computed(() => this.view().lifts.map((l) => this.draw(l)));

  constructor() {
    effect(() => {
      for (const lift of this.view().lifts) if (lift.whole && !this.asked.has(lift.whole.key)) void this.analyse(lift.whole);
    });
  }

  private async analyse(whole: NonNullable<LiftView['whole']>): Promise<void> {
    this.asked.add(whole.key);
    const { lifts } = await this.analyst.lifts(whole.values(), whole.fs);
    const [first, last] = [lifts[0], lifts.at(-1)];
    const found: Found | 'nothing' =
      first && last
        ? {
            crack: first.crack,
            crackAt: first.crackAt / whole.fs,
            reseat: last.reseat,
            reseatAt: last.reseatAt === null ? null : last.reseatAt / whole.fs,
            times: lifts.length,
          }
        : 'nothing';
    this.found.update((all) => ({ ...all, [whole.key]: found }));
  }

  private draw(lift: LiftView) {
    const { low, high, allowed, set, unit } = this.view();
    const begin = lift.points[0]?.[0] ?? 0;
    const seconds = Math.max((lift.points.at(-1)?.[0] ?? 0) - begin, 5);
    const y = (v: number): number => Number((BOTTOM - ((v - low) / (high - low)) * (BOTTOM - TOP)).toFixed(1));
    const x = (s: number): number => Number((((s - begin) / seconds) * WIDTH).toFixed(1));
    const found = lift.whole ? this.found()[lift.whole.key] : undefined;
    const shown = (v: number): string => `${v.toPrecision(4)} ${unit}`;
    const words =
      lift.state === 'ahead'
        ? 'not done yet'
        : lift.state === 'here'
          ? 'watching for the crack'
          : found === undefined
            ? lift.whole
              ? 'analysing the trace'
              : 'read by eye'
            : found === 'nothing'
              ? 'no lift is found in the trace'
              : `cracks at ${shown(found.crack)}${found.reseat === null ? ', reseat not seen' : `, reseats at ${shown(found.reseat)}`}${found.times > 1 ? `; it chatters, ${String(found.times)} times` : ''}`;
    const points =
      found && found !== 'nothing'
        ? [
            { name: 'crack', x: x(found.crackAt), y: y(found.crack), side: -1 },
            ...(found.reseat !== null && found.reseatAt !== null
              ? [{ name: 'reseat', x: x(found.reseatAt), y: y(found.reseat), side: found.reseatAt - begin > seconds * 0.7 ? -1 : 1 }]
              : []),
          ]
        : [];
    return {
      k: lift.k,
      state: lift.state,
      words,
      points,
      span: lift.points.length === 0 ? '' : `${seconds.toFixed(0)} s`,
      setY: y(set),
      band: allowed && { y: y(Math.min(allowed.high, high)), height: Math.max(2, y(Math.max(allowed.low, low)) - y(Math.min(allowed.high, high))) },
      path: lift.points.map(([s, v], i) => `${i === 0 ? 'M' : 'L'}${String(x(s))} ${String(y(v))}`).join(''),
    };
  }
}
