import { STANDARD_ATMOSPHERE_PA as P0 } from '../physics';
import { admit, R, release, soak, type Gas } from './gas';
import type { Rig } from './rig';

const PSI = 6894.757293168361;

/** One circuit: a reservoir, the brake chambers it feeds, and its leaks as conductances of absolute pressure, m³/(s·Pa) at the atmosphere. */
interface Circuit {
  readonly tank: Gas;
  /** Gas in the chambers and service lines, mol; at the tank's temperature. */
  readonly chambers: number;
  readonly tankLeak: number;
  readonly appliedLeak: number;
}

export interface BrakeState {
  readonly primary: Circuit;
  readonly secondary: Circuit;
  readonly wallK: number;
  readonly engine: boolean;
  /** The governor lets the compressor load between cut-in and cut-out. */
  readonly loading: boolean;
  readonly pedal: boolean;
  readonly parked: boolean;
}

const TANK = 0.045;
const CHAMBERS = 0.0024;
const SOAK_S = 10;
const CUT_OUT = 130 * PSI;
const CUT_IN = 105 * PSI;
const COMPRESSOR_MOLS = 0.078; // about 0.6 psi a second into both tanks
const COMPRESSOR_K = 310;
const APPLY_S = 0.6;
const PARKED_LOSS = 0.6; // parked, the spring-brake lines are empty and leak nothing

/** A choked leak: 1e-10 loses some 1.9 psi a minute at 120 psi from one circuit. */
const faults: Readonly<Record<string, { tank: number; applied: number; tank2: number; applied2: number }>> = {
  none: { tank: 3e-11, applied: 5e-11, tank2: 3e-11, applied2: 4e-11 },
  'tank drain': { tank: 2.4e-10, applied: 5e-11, tank2: 3e-11, applied2: 4e-11 },
  'chamber diaphragm': { tank: 3e-11, applied: 4e-10, tank2: 3e-11, applied2: 4e-11 },
  'second circuit chamber': { tank: 3e-11, applied: 5e-11, tank2: 3e-11, applied2: 4e-10 },
};

const tankPressure = (c: Circuit): number => (c.tank.mol * R * c.tank.temperature) / TANK - P0;
const chamberPressure = (c: Circuit): number => (c.chambers * R * c.tank.temperature) / CHAMBERS - P0;
const mol = (m3: number, kelvin: number): number => (P0 * m3) / (R * kelvin);

function applied(c: Circuit, pedal: boolean, dtS: number): Circuit {
  const empty = mol(CHAMBERS, c.tank.temperature);
  if (!pedal) return { ...c, chambers: empty + (c.chambers - empty) * Math.exp(-dtS / APPLY_S) };
  // Gas moves until both stand at one pressure; the share goes over exponentially.
  const gap = tankPressure(c) - chamberPressure(c);
  const moved = (gap * CHAMBERS * TANK * (1 - Math.exp(-dtS / APPLY_S))) / ((CHAMBERS + TANK) * R * c.tank.temperature);
  return { ...c, tank: moved > 0 ? release(c.tank, moved) : c.tank, chambers: c.chambers + Math.max(0, moved) };
}

function circuitStep(c: Circuit, s: BrakeState, suppliedMol: number, dtS: number): Circuit {
  let next = applied(c, s.pedal, dtS);
  if (suppliedMol > 0) next = { ...next, tank: admit(next.tank, suppliedMol, COMPRESSOR_K) };
  const conductance = next.tankLeak * (s.parked ? PARKED_LOSS : 1) + (s.pedal ? next.appliedLeak : 0);
  const over = tankPressure(next);
  const lost = over > 0 ? conductance * (over + P0) * dtS : 0;
  return { ...next, tank: soak(release(next.tank, mol(lost, next.tank.temperature)), s.wallK, SOAK_S, dtS) };
}

function step(s: BrakeState, dtS: number): BrakeState {
  const lower = Math.min(tankPressure(s.primary), tankPressure(s.secondary));
  const loading = s.engine && (s.loading ? lower < CUT_OUT : lower < CUT_IN);
  const supply = loading ? (COMPRESSOR_MOLS * dtS) / 2 : 0;
  return { ...s, loading, primary: circuitStep(s.primary, s, supply, dtS), secondary: circuitStep(s.secondary, s, supply, dtS) };
}

/** A vehicle with two air circuits, engine, governor, pedal and parking brake. */
export const airBrakeRig: Rig<BrakeState> = {
  id: 'air-brakes',
  title: 'Vehicle with two air circuits',
  inputs: ['p1', 'p2'],
  actions: [
    { act: 'engine on', label: 'Start the engine' },
    { act: 'engine off', label: 'Stop the engine, key on' },
    { act: 'release', label: 'Release the parking brake' },
    { act: 'park', label: 'Set the parking brake' },
    { act: 'press', label: 'Press the pedal hard' },
    { act: 'let up', label: 'Let the pedal up' },
  ],
  faults: Object.keys(faults),
  make: (fault, ambientK = 293.15) => {
    const set = faults[fault];
    if (!set) throw new RangeError(`the air-brake rig has no fault ${fault}`);
    const tank = { mol: ((P0 + 92 * PSI) * TANK) / (R * ambientK), temperature: ambientK };
    const chambers = mol(CHAMBERS, ambientK);
    return {
      primary: { tank, chambers, tankLeak: set.tank, appliedLeak: set.applied },
      secondary: { tank, chambers, tankLeak: set.tank2, appliedLeak: set.applied2 },
      wallK: ambientK,
      engine: false,
      loading: false,
      pedal: false,
      parked: true,
    };
  },
  step,
  act: (s, { act }) => {
    switch (act) {
      case 'engine on':
        return { ...s, engine: true, loading: true };
      case 'engine off':
        return { ...s, engine: false, loading: false };
      case 'release':
        return { ...s, parked: false };
      case 'park':
        return { ...s, parked: true };
      case 'press':
        return { ...s, pedal: true };
      case 'let up':
        return { ...s, pedal: false };
      default:
        throw new RangeError(`the air-brake rig cannot ${act}`);
    }
  },
  pressures: (s) => ({ p1: tankPressure(s.primary), p2: tankPressure(s.secondary) }),
};
