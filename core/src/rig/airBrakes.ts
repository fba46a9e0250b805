import { compressorEfficiency, STANDARD_ATMOSPHERE_PA as P0 } from '../physics';
import type { Grade, Id } from '../procedure';
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
  /** Engine speed as a share of idling. */
  readonly speed: number;
  /** The foot goes down and up by itself; seconds into it. */
  readonly pumping: number | null;
  /** It has unloaded since the engine was started. */
  readonly unloaded: boolean;
  /** A coupling line is open to the air, until the protection valve shuts it. */
  readonly line: 'closed' | 'open' | 'protected';
  readonly chocked: boolean;
  readonly set: Fault;
}

const START = 88; // below where any school lets it begin
const TANK = 0.045;
const CHAMBERS = 0.0024;
const SOAK_S = 10;
const CUT_OUT = 130;
const CUT_IN = 105;
const IDLE_PER_MINUTE = 700;
const COMPRESSOR_MOLS = 0.095; // 85 to 100 psi in some 41 s, idling
const RATED_EFFICIENCY = compressorEfficiency(92 * PSI);
const COMPRESSOR_K = 310;
const APPLY_S = 0.6;
const PUMP_S = 4; // two seconds down, two up
const PARKED_LOSS = 0.6; // parked, the spring-brake lines are empty and leak nothing
const LINE_LEAK = 1.2e-8; // an open coupling line, choked

/** A choked leak: 1e-10 loses some 1.9 psi a minute at 120 psi from one circuit. Pressures in psi. */
interface Fault {
  readonly tank: number;
  readonly applied: number;
  readonly tank2: number;
  readonly applied2: number;
  readonly cutOut?: number;
  readonly warns?: number;
  readonly pops?: number;
  readonly protects?: number;
  /** Share of the compressor's flow. */
  readonly compressor?: number;
  /** Share by which one push-rod goes further than the others. */
  readonly stroke?: number;
  /** What a look finds wrong. */
  readonly wrong?: readonly Id[];
  /** Where soap bubbles. */
  readonly bubbles?: Readonly<Record<Id, Grade>>;
  /** The parking brake does not hold the vehicle: nobody sees it while the chocks do. */
  readonly slips?: true;
}

const sound: Fault = { tank: 3e-11, applied: 5e-11, tank2: 3e-11, applied2: 4e-11 };
const faults: Readonly<Record<string, Fault>> = {
  none: sound,
  'tank drain': { ...sound, tank: 2.4e-10, bubbles: { drains: 'stream' } },
  'chamber diaphragm': { ...sound, applied: 4e-10, bubbles: { chambers: 'stream' } },
  'second circuit chamber': { ...sound, applied2: 4e-10, bubbles: { chambers: 'stream' } },
  'late warning': { ...sound, warns: 45 },
  'parking valve sticks': { ...sound, pops: 14 },
  'governor set high': { ...sound, cutOut: 148 },
  'weak compressor': { ...sound, compressor: 0.4 },
  'adjuster behind': { ...sound, stroke: 1.5 },
  'protection valve sticks': { ...sound, protects: 9 },
  'lamp dead, buzzer alive': { ...sound, wrong: ['lamp-lit'] },
  'one valve stays in': { ...sound, wrong: ['trailer-out'] },
  'heads crossed': { ...sound, wrong: ['not-crossed'] },
  'parking brake slips': { ...sound, slips: true },
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
  const line = s.line === 'open' ? LINE_LEAK : 0;
  const conductance = line + next.tankLeak * (s.parked ? PARKED_LOSS : 1) + (s.pedal ? next.appliedLeak : 0);
  const over = tankPressure(next);
  const lost = over > 0 ? conductance * (over + P0) * dtS : 0;
  return { ...next, tank: soak(release(next.tank, mol(lost, next.tank.temperature)), s.wallK, SOAK_S, dtS) };
}

const lowest = (s: BrakeState): number => Math.min(tankPressure(s.primary), tankPressure(s.secondary)) / PSI;

function step(before: BrakeState, dtS: number): BrakeState {
  const pumping = before.pumping === null ? null : before.pumping + dtS;
  const s = pumping === null ? before : { ...before, pumping, pedal: pumping % PUMP_S < PUMP_S / 2 };
  const lower = lowest(s);
  const loading = s.engine && (s.loading ? lower < (s.set.cutOut ?? CUT_OUT) : lower < CUT_IN);
  const share = (compressorEfficiency(Math.max(0, lower) * PSI) / RATED_EFFICIENCY) * s.speed * (s.set.compressor ?? 1);
  const supply = loading ? (COMPRESSOR_MOLS * share * dtS) / 2 : 0;
  const next = {
    ...s,
    loading,
    unloaded: s.unloaded || (s.engine && !loading),
    primary: circuitStep(s.primary, s, supply, dtS),
    secondary: circuitStep(s.secondary, s, supply, dtS),
  };
  const now = lowest(next);
  return {
    ...next,
    parked: s.parked || now <= (s.set.pops ?? 34),
    line: s.line === 'open' && now <= (s.set.protects ?? 38) ? 'protected' : s.line,
  };
}

/** Push-rod strokes at full application, m, the same on every axle; an adjuster that lags does so on the left. */
function strokes(s: BrakeState): Readonly<Record<string, number>> {
  const inch = 0.0254 * (s.pedal ? 1 : 0);
  return { sl: 1.375 * inch * (s.set.stroke ?? 1), sr: 1.3125 * inch };
}

/** A vehicle with two air circuits, engine, governor, pedal and parking brake. */
export const airBrakeRig: Rig<BrakeState> = {
  id: 'air-brakes',
  title: 'Vehicle with two air circuits',
  inputs: ['p1', 'p2', 'n1', 'sl', 'sr'],
  actions: [
    { act: 'engine on', label: 'Start the engine' },
    { act: 'engine off', label: 'Stop the engine, key on' },
    { act: 'release', label: 'Release the parking brake' },
    { act: 'park', label: 'Set the parking brake' },
    { act: 'press', label: 'Press the pedal hard' },
    { act: 'let up', label: 'Let the pedal up' },
    { act: 'pump', label: 'Pump the pedal' },
    { act: 'fast idle', label: 'Engine at fast idle' },
    { act: 'open line', label: 'Part a coupling line' },
    { act: 'close line', label: 'Couple the line again' },
    { act: 'chock', label: 'Put the chocks in' },
    { act: 'unchock', label: 'Take the chocks out' },
  ],
  faults: Object.keys(faults),
  make: (fault, ambientK = 293.15, grown = 1) => {
    const set = faults[fault];
    if (!set) throw new RangeError(`the air-brake rig has no fault ${fault}`);
    const tank = { mol: ((P0 + START * PSI) * TANK) / (R * ambientK), temperature: ambientK };
    const chambers = mol(CHAMBERS, ambientK);
    return {
      primary: { tank, chambers, tankLeak: sound.tank + (set.tank - sound.tank) * grown, appliedLeak: sound.applied + (set.applied - sound.applied) * grown },
      secondary: {
        tank,
        chambers,
        tankLeak: sound.tank2 + (set.tank2 - sound.tank2) * grown,
        appliedLeak: sound.applied2 + (set.applied2 - sound.applied2) * grown,
      },
      wallK: ambientK,
      engine: false,
      loading: false,
      pedal: false,
      parked: true,
      speed: 1,
      pumping: null,
      unloaded: false,
      line: 'closed',
      chocked: false,
      set,
    };
  },
  step,
  act: (s, { act }) => {
    switch (act) {
      case 'engine on':
        return { ...s, engine: true, loading: true, unloaded: false, speed: 1 };
      case 'engine off':
        return { ...s, engine: false, loading: false, pumping: null, pedal: false };
      case 'release':
        return { ...s, parked: false };
      case 'park':
        return { ...s, parked: true };
      case 'press':
        return { ...s, pedal: true, pumping: null };
      case 'let up':
        return { ...s, pedal: false, pumping: null };
      case 'pump':
        return { ...s, pumping: 0 };
      case 'fast idle':
        return { ...s, engine: true, loading: true, unloaded: false, speed: 1.6 };
      case 'open line':
        return { ...s, line: 'open' };
      case 'close line':
        return { ...s, line: 'closed' };
      case 'chock':
        return { ...s, chocked: true };
      case 'unchock':
        return { ...s, chocked: false };
      default:
        throw new RangeError(`the air-brake rig cannot ${act}`);
    }
  },
  signs: (s) => ({
    wrong: new Set([...(s.set.wrong ?? []), ...(s.set.slips && !s.chocked ? ['moving-parking', 'moving-tractor', 'parking-holds'] : [])]),
    bubbles: s.set.bubbles ?? {},
  }),
  values: (s) => ({
    p1: tankPressure(s.primary),
    p2: tankPressure(s.secondary),
    n1: s.engine ? (s.speed * IDLE_PER_MINUTE) / 60 : 0,
    ...strokes(s),
  }),
  happening: (s) => {
    const now = new Set<string>();
    if (s.engine && s.unloaded) now.add(s.loading ? 'loads' : 'unloads');
    if (lowest(s) <= (s.set.warns ?? 64)) now.add('warns');
    if (lowest(s) <= (s.set.pops ?? 34)) now.add('pops');
    if (lowest(s) < 28) now.add('low');
    if (s.line === 'protected') now.add('protected');
    return now;
  },
};
