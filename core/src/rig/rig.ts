import type { Channel } from '../procedure';

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
  /** A cold rig with a fault from `faults`. */
  readonly make: (fault: string, ambientK?: number) => S;
  /** One step of time. */
  readonly step: (state: S, dtS: number) => S;
  readonly act: (state: S, action: RigAction) => S;
  /** True gauge pressures, Pa. */
  readonly pressures: (state: S) => Readonly<Record<Channel, number>>;
}
