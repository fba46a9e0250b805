import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { factsOf, showQuantity, type Quantity } from '@grellin/core';
import { Store } from '@ngrx/store';
import { Allowance } from '../../mark/allowance';
import { UnitChoice } from '../../preference/unitChoice';
import { CsvDrop } from '../file/csvDrop';
import type { Timed } from '../file/csvReadings';
import { RigPanel } from '../rig/rigPanel';
import { BenchRun } from '../shown/benchRun';
import { BenchActions } from '../session/benchStore';
import { BenchHand } from '../shown/benchHand';
import { droppableOf, gaugeFactsOf, limitFactsOf, typedChannelsOf } from '../ask/facts';
import { ReadingForm, type TypedReading } from '../ask/readingForm';
import { StillAir } from '../ask/stillAir';

/** What the gauges show, the clock, where readings are typed or dropped, and the rig of a practice run. */
@Component({
  selector: 'gr-gauge-aside',
  imports: [Allowance, CsvDrop, ReadingForm, RigPanel, StillAir],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './gaugeAside.html',
  styleUrl: './gaugeAside.css',
})
export class GaugeAside {
  private readonly store = inject(Store);
  private readonly units = inject(UnitChoice);
  private readonly run = inject(BenchRun);
  protected readonly hand = inject(BenchHand);
  protected readonly bench = this.run.bench;
  protected readonly view = this.run.view;
  protected readonly works = this.run.works;
  protected readonly mayWork = this.run.mayWork;
  protected readonly now = this.run.now;

  protected readonly rigAsk = this.run.rigAsk;
  protected readonly rigInstrument = computed(() => {
    const view = this.bench().view;
    return view?.rig ?? Object.values(view?.instruments ?? {}).find((i) => i.simulated && i.streams);
  });
  /** How far the run has come by its gauges, ms; null where none of them streams. */
  protected readonly heard = computed(() =>
    Object.values(this.bench().view?.instruments ?? {}).some((i) => i.simulated && i.streams) ? this.bench().run.at : null,
  );
  protected readonly typedChannels = computed(() => {
    const view = this.view();
    return view ? typedChannelsOf(view, this.bench().view?.instruments ?? {}, this.bench().run) : [];
  });
  /** What was typed last for a gauge in this run, as it was typed. */
  protected lastTyped(channel: string): Quantity | null {
    const chunk = this.bench().run.chunks[channel]?.item;
    const value = chunk?.typed ? chunk.values.at(-1) : undefined;
    return chunk && value !== undefined ? { value, unit: chunk.unit } : null;
  }
  /** One key a gauge that is read by eye: a thumb on each, pressed as its needle goes through the figure. */
  protected readonly taps = computed(() =>
    this.typedChannels().flatMap((g) =>
      (this.view()?.taps ?? []).filter((t) => t.channel === g.channel).map((t) => ({ ...t, title: g.title, figure: showQuantity(t.quantity) })),
    ),
  );
  /** Channels that a logger's file could fill. */
  protected readonly droppable = computed(() => {
    const view = this.view();
    return view ? droppableOf(view, this.bench().run, this.typedChannels()) : [];
  });
  protected readonly startedMs = computed(() => Date.parse(this.bench().run.opened?.startedAt ?? ''));
  protected readonly gaugeFacts = computed(() => {
    const view = this.view();
    return view ? gaugeFactsOf(view, this.bench().run) : [];
  });
  protected readonly limitFacts = computed(() => {
    const { plan } = this.bench();
    const view = this.view();
    return plan && view?.stage ? limitFactsOf(plan, view.stage, view, this.units.choices()) : [];
  });
  /** A store is timed by the sun and the wind as much as by the clock: before its half-life starts, both are asked about. */
  protected readonly byWeather = computed(() => {
    const n = this.view()?.next;
    const waits = n?.kind === 'begin' || n?.kind === 'answer' || n?.kind === 'reach' || n?.kind === 'act' || n?.kind === 'wait' || n?.kind === 'start';
    return waits && (this.bench().plan?.stages ?? []).some((s) => factsOf(s.method).byWeather);
  });

  protected takeFile(readings: readonly Timed[]): void {
    this.store.dispatch(BenchActions.fileTaken({ readings }));
  }

  protected read(reading: TypedReading): void {
    this.run.say({ kind: 'reading', channel: reading.channel, quantity: reading.quantity });
  }
}
