import type { Channel } from '../procedure';
import { airBrakeRig } from './airBrakes';
import { type Random } from './random';
import type { Rig, RigAction } from './rig';
import { sense, type Sensors } from './sensor';
import { suitRig } from './suit';

/** A rig whose kind of state is known to itself alone. */
export interface AnyRig {
  readonly id: string;
  readonly title: string;
  readonly inputs: readonly Channel[];
  readonly actions: Rig<never>['actions'];
  readonly faults: readonly string[];
  /** A logger joined to a cold rig. */
  readonly logger: (fault: string, sensors: Sensors, seed: number) => Logger;
}

/** One line of a logger: every input at one time of its own clock. */
export interface LoggedLine {
  /** ms on the logger's clock. */
  readonly at: number;
  readonly values: Readonly<Record<Channel, number>>;
}

/** A rig with sensors and a clock that only moves when it is told to. */
export interface Logger {
  readonly at: number;
  readonly act: (action: RigAction) => Logger;
  /** Lets time pass and gives every line that falls due in it; no reading is skipped, however long the time. */
  readonly advance: (ms: number) => readonly [Logger, readonly LoggedLine[]];
}

/** Time between lines, and the step of the model inside it. */
export const LINE_MS = 500;
const STEP_MS = 50;

function loggerOn<S>(rig: Rig<S>, state: S, sensors: Sensors, random: Random, at: number): Logger {
  return {
    at,
    act: (action) => loggerOn(rig, rig.act(state, action), sensors, random, at),
    advance: (ms) => {
      let s = state;
      let r = random;
      let t = at;
      const lines: LoggedLine[] = [];
      // Whole steps only: the clock then stands on the same times however the waiting was cut up.
      for (let left = Math.round(ms / STEP_MS); left > 0; left--) {
        s = rig.step(s, STEP_MS / 1000);
        t += STEP_MS;
        if (t % LINE_MS !== 0) continue;
        const values: Record<Channel, number> = {};
        for (const [input, pressure] of Object.entries(rig.pressures(s))) {
          const sensor = sensors[input];
          if (!sensor) continue;
          const [value, next] = sense(sensor, pressure, r);
          values[input] = value;
          r = next;
        }
        lines.push({ at: t, values });
      }
      return [loggerOn(rig, s, sensors, r, t), lines];
    },
  };
}

function anyRig<S>(rig: Rig<S>): AnyRig {
  return {
    id: rig.id,
    title: rig.title,
    inputs: rig.inputs,
    actions: rig.actions,
    faults: rig.faults,
    logger: (fault, sensors, seed) => loggerOn(rig, rig.make(fault), sensors, { state: seed >>> 0 }, 0),
  };
}

/** Every rig, for the simulated instruments. */
export const rigs: readonly AnyRig[] = [anyRig(suitRig), anyRig(airBrakeRig)];

export function rigById(id: string): AnyRig | undefined {
  return rigs.find((r) => r.id === id);
}
