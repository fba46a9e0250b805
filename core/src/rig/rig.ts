import type { Channel, Grade, Id } from '../procedure';

/** What the person's hand does to a rig. `to` is a gauge pressure in Pa where the action aims at one. */
export interface RigAction {
  readonly act: string;
  readonly to?: number;
}

/** A physical model of a vessel and what is joined to it. Pure: a state goes in and a new one comes out. */
export interface Rig<S> {
  readonly id: string;
  readonly title: string;
  /** The inputs of a logger joined to it. */
  readonly inputs: readonly Channel[];
  /** What the hand can do, for a panel of controls. */
  readonly actions: readonly { readonly act: string; readonly label: string; readonly aims?: true }[];
  /** Seeded faults by name. The person running does not see which one is set. */
  readonly faults: readonly string[];
  /**
   * A cold rig with a fault from `faults`.
   * @param grown how far its leak has grown, 0 (sound) to 1 (as it is seeded); a rig whose faults do not grow takes no notice
   */
  readonly make: (fault: string, ambientK?: number, grown?: number) => S;
  /** One step of time. */
  readonly step: (state: S, dtS: number) => S;
  readonly act: (state: S, action: RigAction) => S;
  /** True values by input, each in the base unit of what its sensor reads: Pa (gauge), m³/s, m³, K, m. */
  readonly values: (state: S) => Readonly<Record<Channel, number>>;
  /** What happens by itself and is seen or heard: a warning sounds, a valve opens. */
  readonly happening?: (state: S) => ReadonlySet<Id>;
  /** What a person who looks or soaps would find: items that are not in order, and places that bubble. What is in order is left out. */
  readonly signs?: (state: S) => Signs;
  /** Time between a logger's lines, ms; half a second where nothing is said. */
  readonly everyMs?: number;
  /** Longest step of the model, ms. */
  readonly stepMs?: number;
}

export interface Signs {
  readonly wrong: ReadonlySet<Id>;
  readonly bubbles: Readonly<Record<Id, Grade>>;
}

export const allInOrder: Signs = { wrong: new Set(), bubbles: {} };
