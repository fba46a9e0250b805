import type { Channel, Id } from '../procedure';
import { airBrakeRig } from './airBrakes';
import { articleRig } from './article';
import { breathingSetRig } from './breathingSet';
import { circuitRig } from './circuit';
import { jacketRig } from './jacket';
import { type Random } from './random';
import { reliefRig } from './reliefBench';
import { allInOrder, type Rig, type RigAction, type Signs } from './rig';
import { sense, type Sensors } from './sensor';
import { suitRig } from './suit';
import { ventRig } from './ventStand';
import { cargoTankRig, drySuitRig, facePieceRig, ibcRig, storeRig, vapourTankRig } from './vessels';

/** A rig whose kind of state is known to itself alone. */
export interface AnyRig {
  readonly id: string;
  readonly title: string;
  readonly inputs: readonly Channel[];
  readonly actions: Rig<never>['actions'];
  readonly faults: readonly string[];
  /** Time between a logger's lines, ms. */
  readonly everyMs: number;
  /** A logger joined to a cold rig. */
  readonly logger: (fault: string, sensors: Sensors, seed: number, grown?: number) => Logger;
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
  readonly happening: ReadonlySet<Id>;
  readonly signs: Signs;
  readonly advance: (ms: number) => readonly [Logger, readonly LoggedLine[]];
}

/** Time between lines, and the step of the model inside it, where a rig names none. */
export const LINE_MS = 500;
const STEP_MS = 50;
const quiet: ReadonlySet<Id> = new Set();

function loggerOn<S>(rig: Rig<S>, state: S, sensors: Sensors, random: Random, at: number): Logger {
  const everyMs = rig.everyMs ?? LINE_MS;
  const stepMs = Math.min(rig.stepMs ?? STEP_MS, everyMs);
  return {
    at,
    happening: rig.happening?.(state) ?? quiet,
    signs: rig.signs?.(state) ?? allInOrder,
    act: (action) => loggerOn(rig, rig.act(state, action), sensors, random, at),
    advance: (ms) => {
      let s = state;
      let r = random;
      let t = at;
      const lines: LoggedLine[] = [];
      // Whole steps only: the clock then stands on the same times however the waiting was cut up.
      for (let left = Math.round(ms / stepMs); left > 0; left--) {
        s = rig.step(s, stepMs / 1000);
        t += stepMs;
        if (t % everyMs !== 0) continue;
        const values: Record<Channel, number> = {};
        for (const [input, truth] of Object.entries(rig.values(s))) {
          const sensor = sensors[input];
          if (!sensor) continue;
          const [value, next] = sense(sensor, truth, r);
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
    everyMs: rig.everyMs ?? LINE_MS,
    logger: (fault, sensors, seed, grown) => loggerOn(rig, rig.make(fault, undefined, grown), sensors, { state: seed >>> 0 }, 0),
  };
}

/** Every rig, for the simulated instruments. */
export const rigs: readonly AnyRig[] = [
  anyRig(suitRig),
  anyRig(airBrakeRig),
  anyRig(breathingSetRig),
  anyRig(circuitRig),
  anyRig(jacketRig),
  anyRig(reliefRig),
  anyRig(ventRig),
  anyRig(articleRig),
  ...[facePieceRig, drySuitRig, ibcRig, vapourTankRig, cargoTankRig, storeRig].map(anyRig),
];

/**
 * @example rigById('suit')?.id // 'suit'
 */
export function rigById(id: string): AnyRig | undefined {
  return rigs.find((r) => r.id === id);
}
