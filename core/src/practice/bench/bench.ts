import type { Attributes, Channel, Id, Lists, Role, Tables, Verdict } from '../../procedure';
import type { Quantity, Unit } from '../../quantity';

/** What a practised hand does at a step, as data: an act (`aim` is filled in from the step's window, `to` is a pressure in Pa that the hand knows by feel), or waiting for something to happen or for time. */
export type HandMove =
  { readonly act: string; readonly aim?: 'low' | 'middle' | 'high'; readonly to?: number } | { readonly until: Id } | { readonly seconds: number };

/** What a run must come to when a fault is seeded: the same for every rule set, or by rule set. It is the rig's hidden truth, never asked of `judge`. */
export type Truth = Verdict | Readonly<Record<Id, Verdict>>;

/** A gauge of a bench, as its simulated device shows it. */
export interface Gauge {
  readonly input: Channel;
  readonly unit: Unit;
  readonly high: number;
  readonly low?: number;
  readonly resolution: number;
  readonly accuracy: number;
  readonly fitted?: true;
  readonly byHand?: true;
  readonly noise?: number;
  /** ISO date of its calibration, where a rule asks for it. */
  readonly calibratedOn?: string;
}

/** What stands for a procedure where it is practised: an invented item, its gauges, the simulated device, the moves of a practised hand, and what is hidden. */
export interface Bench {
  /** First letters of the simulated device that its readings come from; procedures done on one bench share it. */
  readonly device: string;
  readonly role: Role;
  readonly tag: Id;
  readonly attributes: Attributes;
  /** What is told of its day, thing by thing. */
  readonly lists?: Lists;
  /** The kept tables that it goes by. */
  readonly tables?: Tables;
  /** Attributes that a rule set chooses the item by. */
  readonly by?: Readonly<Record<Id, Attributes>>;
  readonly gauges: Readonly<Record<Channel, Gauge>>;
  /** The rig that stands for the items. */
  readonly rig: Id;
  /** Moves by step or mark; a stage's own name stands for what is done before it begins, `stage:start` for its start. */
  readonly moves: Readonly<Record<Id, readonly HandMove[]>>;
  /** The faults that this procedure can meet, and what it must find. */
  readonly truth: Readonly<Record<string, Truth>>;
}
export type Benches = Readonly<Record<Id, Bench>>;

export const act = (name: string): HandMove => ({ act: name });
/** As full as a hand makes it that has no gauge, Pa. */
export const byHand = (name: string, to: number): HandMove => ({ act: name, to });
export const aim = (name: string, where: 'low' | 'middle' | 'high' = 'middle'): HandMove => ({ act: name, aim: where });
export const until = (what: Id): HandMove => ({ until: what });
export const q = (value: number, unit: Unit): Quantity => ({ value, unit });
export const inH2O = "[in_i'H2O]";
export const psi = '[psi]';

/** Proving the kit, then filling, settling and trimming: what most vessels are done by. */
export const filled = (fill: Id, settle: Id, trim: Id): Bench['moves'] => ({
  [fill]: [aim('fill')],
  [settle]: [aim('keep')],
  [trim]: [aim('trim')],
  start: [act('shut')],
});
