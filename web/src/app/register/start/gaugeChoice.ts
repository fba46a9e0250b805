import { computed, linkedSignal, type Signal } from '@angular/core';
import type { AssetRow, InstrumentRow } from '@grellin/contract';
import {
  channelsUsed,
  instrumentFitness,
  limitedChannels,
  mustBeFitted,
  showQuantity,
  type Decides,
  type Fitness,
  type PlanResult,
  type Procedure,
  type RuleSet,
} from '@grellin/core';
import { rigFor } from '@grellin/core/practice';
import { firstGauges, fits, type Picked } from './gauges';

interface ChannelChoice {
  readonly channel: string;
  readonly title: string;
  /** It need not be read. */
  readonly optional: boolean;
  /** Nothing is judged on it: it only shows whether something was done. */
  readonly shows: boolean;
  readonly options: readonly { readonly id: string; readonly label: string }[];
}

/** What the gauges of a run are chosen for. */
export interface ChosenFor {
  readonly asset: Signal<AssetRow>;
  readonly instruments: Signal<readonly InstrumentRow[]>;
  readonly procedure: Signal<Procedure | undefined>;
  readonly ruleSet: Signal<RuleSet | undefined>;
  readonly plan: Signal<PlanResult | null>;
  readonly today: string;
}

/** The gauge of each channel that a run is opened with: what can read it, what is put there to begin with, and what each is good for. */
export class GaugeChoice {
  constructor(private readonly given: ChosenFor) {}

  private readonly fitting = computed(() => {
    const procedure = this.given.procedure();
    if (!procedure) return [];
    const all = this.given.instruments();
    // A rig that simulates other equipment than this procedure tests is left out.
    const ruleSet = this.given.ruleSet();
    // What this rule set does not read is not asked for.
    return (ruleSet ? channelsUsed(procedure, ruleSet) : Object.keys(procedure.channels)).map(
      (channel) => [channel, all.filter((i) => fits(i, procedure, channel, this.given.asset()) && (i.rig === null || i.rig === rigFor(procedure.id)))] as const,
    );
  });

  /** Only what can read it is offered; what was chosen stays while the same ones are. */
  private readonly offered = computed(() => this.fitting().map(([channel, fitting]) => [channel, fitting.filter((i) => !this.short(channel, i))] as const), {
    equal: (a, b) => JSON.stringify(a.map(([c, all]) => [c, all.map((i) => i.id)])) === JSON.stringify(b.map(([c, all]) => [c, all.map((i) => i.id)])),
  });

  readonly channels = computed((): readonly ChannelChoice[] => {
    const procedure = this.given.procedure();
    return this.offered().map(([channel, fitting]) => ({
      channel,
      title: procedure?.channels[channel]?.title ?? channel,
      optional: procedure === undefined || !mustBeFitted(procedure, channel, (c) => this.chosen()[c] !== undefined),
      shows: procedure?.stages.every((s) => !limitedChannels(s.method).includes(channel)) === true,
      options: fitting.map((i) => ({ id: i.id, label: `${i.tag} · ${i.title}${i.inUseBy === null ? '' : ' · in use'}` })),
    }));
  });

  /** What somebody picked of this procedure's gauges, or that a channel is not read. */
  private readonly picked = linkedSignal<string, Picked>({ source: () => this.given.procedure()?.id ?? '', computation: () => ({}) });

  /** The instrument of each channel, by its id. */
  readonly chosen = computed(() => firstGauges(this.offered(), this.given.today, this.given.procedure(), this.picked()));

  /** Whether some gauge of what is chosen sends its readings. */
  readonly streams = computed(() => Object.values(this.chosen()).some((id) => this.instrument(id)?.streams));

  /** The channels that are needed and have no gauge. */
  readonly lacking = computed(() => this.channels().filter((c) => !this.chosen()[c.channel] && !c.optional));

  choose(channel: string, id: string | null): void {
    this.picked.update((p) => ({ ...p, [channel]: id }));
  }

  /** Whether the chosen gauge can do the work, in the core's judgement. */
  fitness(channel: string): Fitness | null {
    const made = this.given.plan();
    const found = this.instrument(this.chosen()[channel]);
    return made?.ok && found ? instrumentFitness(made.plan, channel, { ...found, fitted: found.fittedTo !== null }, this.given.today) : null;
  }

  /** The loss that a gauge decides in a stage, or what gauge would. */
  decided(d: Decides): string {
    const loss = showQuantity(d.loss);
    if (!d.would) return $localize`a loss of ${loss}:loss:`;
    const [accuracy, resolution] = [showQuantity(d.would.accuracy), showQuantity(d.would.resolution)];
    return $localize`a loss of ${loss}:loss:; one good to ±${accuracy}:accuracy: in steps of ${resolution}:resolution: would`;
  }

  /** What is known of the gauge of a channel, in a line. */
  about(channel: string): string {
    const i = this.instrument(this.chosen()[channel]);
    if (!i) return '';
    const due =
      i.fittedTo !== null
        ? 'fitted'
        : i.calibrationDue === null
          ? 'no calibration'
          : i.calibrationDue < this.given.today
            ? 'calibration ran out'
            : `calibration to ${i.calibrationDue}`;
    return `±${showQuantity(i.accuracy)}, steps of ${showQuantity(i.resolution)}; ${due}; ${i.simulated ? 'simulated' : i.streams ? 'sends its readings' : 'read by eye and typed'}`;
  }

  private instrument(id: string | undefined): InstrumentRow | undefined {
    return this.given.instruments().find((i) => i.id === id);
  }

  /** Whether a gauge’s scale does not reach what it would have to show. */
  private short(channel: string, i: InstrumentRow): boolean {
    const made = this.given.plan();
    if (!made?.ok) return false;
    return instrumentFitness(made.plan, channel, { ...i, fitted: i.fittedTo !== null }, this.given.today).against.some((a) => a.code === 'rangeShort');
  }
}
