import type { Grade, Id } from '../procedure';
import { STANDARD_ATMOSPHERE_PA as P0 } from '../physics';
import { admit, R, release, soak, type Gas } from './gas';
import type { Rig, Signs } from './rig';

/** One seeded fault of a vessel. Leaks are rate constants at the gauge pressure it is tested at, 1/s: λ of an exponential decay. */
export interface VesselFault {
  readonly leak?: number;
  readonly kitLeak?: number;
  /** How fast the walls warm, K/s. */
  readonly drift?: number;
  /** Places that leak, each with its share of the leak. */
  readonly spots?: Readonly<Record<Id, number>>;
  /** Items that a look would find not in order. */
  readonly wrong?: readonly Id[];
  /** Rate constant into a second volume behind a valve that should shut it off, 1/s. */
  readonly passing?: number;
  /** The supply never reaches the pressure: share of it that it can. */
  readonly weak?: number;
}

/** A vessel with a test kit at its side. SI units. */
export interface VesselSpec {
  readonly id: Id;
  readonly title: string;
  readonly volume: number;
  /** How much its walls give, m³/Pa. */
  readonly compliance?: number;
  /** Time constant of gas and walls, s. */
  readonly soakS: number;
  /** The pressure it is tested at, Pa gauge; negative for suction. */
  readonly testPa: number;
  /** Time that the supply takes to fill it, s. */
  readonly fillS: number;
  /** Liquid in it: its vapour follows the wall temperature by so many Pa a kelvin, with a time constant. */
  readonly vapour?: { readonly perK: number; readonly tauS: number };
  /** A second volume behind a valve, read as p2. */
  readonly second?: number;
  readonly faults: Readonly<Record<string, VesselFault>>;
}

export interface VesselState {
  readonly gas: Gas;
  readonly kit: Gas;
  readonly second: Gas;
  readonly secondOpen: boolean;
  readonly vapourPa: number;
  readonly startK: number;
  readonly wallK: number;
  readonly blanked: boolean;
  readonly fault: VesselFault;
  readonly tap: { readonly kind: 'shut' } | { readonly kind: 'fill' | 'keep' | 'bleed' | 'trim'; readonly to: number };
}

const KIT_SHARE = 0.003;
const KIT_SOAK_S = 2;
const NEAR_SHARE = 0.05; // the hand begins to throttle this far from its aim
const TRIM_SHARE = 0.2; // and closer still when it trims
const LET_DOWN_SHARE = 0.25;
const mol = (m3: number, kelvin: number): number => (P0 * m3) / (R * kelvin);

/**
 * How hard a place bubbles by what flows out of it, m³/s. Common practice: a stream is what the eye sees at a few mL a minute.
 * @example gradeOfFlow(5e-6 / 60) // 'stream'
 * @example gradeOfFlow(0) // 'none'
 */
export function gradeOfFlow(flow: number): Grade {
  const millilitresAMinute = flow * 6e7;
  if (millilitresAMinute > 20) return 'grows';
  if (millilitresAMinute > 3) return 'stream';
  return millilitresAMinute > 0.5 ? 'fewAtFirst' : 'none';
}

/**
 * Makes the rig of a vessel: gas by the first law, walls that give and exchange heat, a laminar leak, a test kit that can leak by itself.
 * @example vesselRig({ id: 'drum', title: 'Drum', volume: 0.2, soakS: 60, testPa: 20e3, fillS: 30, faults: { none: {} } }).id // 'drum'
 */
export function vesselRig(spec: VesselSpec): Rig<VesselState> {
  const C = spec.compliance ?? 0;
  const kitVolume = spec.volume * KIT_SHARE;
  /** m³/s at the atmosphere for each Pa of gauge pressure, from a rate constant: the compliance of walls and gas together gives way. */
  const conductance = (lambda: number): number => (lambda * (spec.volume + C * (P0 + spec.testPa))) / (P0 + spec.testPa);
  const supply = (Math.abs(spec.testPa) * (spec.volume + C * P0)) / P0 / spec.fillS;
  const near = Math.abs(spec.testPa) * NEAR_SHARE;

  const gasPressure = (s: VesselState): number => {
    const nRT = s.gas.mol * R * s.gas.temperature;
    if (C === 0) return nRT / spec.volume - P0 + s.vapourPa;
    const b = spec.volume + C * P0;
    const c = nRT - P0 * spec.volume;
    return (2 * c) / (b + Math.sqrt(Math.max(0, b * b + 4 * C * c))) + s.vapourPa;
  };
  const kitPressure = (s: VesselState): number => (s.kit.mol * R * s.kit.temperature) / kitVolume - P0;
  const shown = (s: VesselState): number => (s.blanked ? kitPressure(s) : gasPressure(s));
  const secondPressure = (s: VesselState): number => (spec.second === undefined ? 0 : (s.second.mol * R * s.second.temperature) / spec.second - P0);

  const tapFlow = (s: VesselState): number => {
    if (s.tap.kind === 'shut') return 0;
    const missing = s.tap.to - shown(s);
    const within = s.tap.kind === 'trim' ? near * TRIM_SHARE : near;
    const share = Math.max(-1, Math.min(1, missing / within)) * (s.blanked ? KIT_SHARE : 1);
    const suction = spec.testPa < 0;
    const pump = Math.sign(missing) === Math.sign(spec.testPa);
    if (s.tap.kind === 'bleed') return pump ? 0 : share * supply * LET_DOWN_SHARE;
    if (pump) return s.fault.weak !== undefined && Math.abs(shown(s)) > Math.abs(spec.testPa) * s.fault.weak ? 0 : share * supply;
    return s.tap.kind === 'trim' || suction ? share * supply * LET_DOWN_SHARE : 0;
  };
  const flowed = (gas: Gas, m3: number, wallK: number): Gas => {
    if (m3 > 0) return admit(gas, mol(m3, wallK), wallK);
    return m3 < 0 ? release(gas, mol(-m3, gas.temperature)) : gas;
  };
  const lost = (gas: Gas, m3: number, wallK: number): Gas => (m3 >= 0 ? release(gas, mol(m3, gas.temperature)) : admit(gas, mol(-m3, wallK), wallK));

  return {
    id: spec.id,
    title: spec.title,
    inputs: spec.second === undefined ? ['p1', 't1'] : ['p1', 't1', 'p2'],
    actions: [
      { act: 'blank', label: 'Blank the kit off' },
      { act: 'join', label: 'Join the kit' },
      { act: 'fill', label: 'Fill to', aims: true },
      { act: 'keep', label: 'Keep at', aims: true },
      { act: 'trim', label: 'Trim to', aims: true },
      { act: 'bleed', label: 'Let down to', aims: true },
      { act: 'shut', label: 'Shut the tap' },
      ...(spec.second === undefined ? [] : [{ act: 'isolate', label: 'Shut the inside valve' }]),
    ],
    faults: Object.keys(spec.faults),
    make: (fault, ambientK = 293.15, grown = 1) => {
      const seeded = spec.faults[fault];
      if (!seeded) throw new RangeError(`the rig ${spec.id} has no fault ${fault}`);
      const sound = spec.faults['none']?.leak ?? 0;
      const set: VesselFault = grown === 1 || seeded.leak === undefined ? seeded : { ...seeded, leak: sound + (seeded.leak - sound) * grown };
      const air = (m3: number): Gas => ({ mol: mol(m3, ambientK), temperature: ambientK });
      return {
        gas: air(spec.volume),
        kit: air(kitVolume),
        second: air(spec.second ?? 0),
        secondOpen: false,
        vapourPa: 0,
        startK: ambientK,
        wallK: ambientK,
        blanked: false,
        fault: set,
        tap: { kind: 'shut' },
      };
    },
    step: (s, dtS) => {
      const wallK = s.wallK + (s.fault.drift ?? 0) * dtS;
      const p = gasPressure(s);
      const flow = tapFlow(s) * dtS;
      const kitLost = conductance(s.fault.kitLeak ?? 0) * KIT_SHARE * kitPressure(s) * dtS;
      let { gas, kit, second } = s;
      if (s.blanked) kit = lost(flowed(kit, flow, wallK), kitLost, wallK);
      else gas = flowed(gas, flow, wallK);
      gas = lost(gas, conductance(s.fault.leak ?? 0) * p * dtS, wallK);
      if (spec.second !== undefined && s.fault.passing !== undefined && s.secondOpen) {
        const passed = conductance(s.fault.passing) * (p - secondPressure(s)) * dtS;
        gas = lost(gas, passed, wallK);
        second = lost(second, -passed, wallK);
      }
      const target = (spec.vapour?.perK ?? 0) * (wallK - s.startK);
      const vapourPa = spec.vapour ? target + (s.vapourPa - target) * Math.exp(-dtS / spec.vapour.tauS) : 0;
      const next: VesselState = { ...s, wallK, vapourPa, gas: soak(gas, wallK, spec.soakS, dtS), kit: soak(kit, wallK, KIT_SOAK_S, dtS), second };
      const done = s.tap.kind === 'bleed' && Math.abs(shown(next)) <= Math.abs(s.tap.to) + near * 0.01;
      const there = s.tap.kind === 'fill' && Math.abs(shown(next) - s.tap.to) <= near * 0.05;
      if (done) return { ...next, tap: { kind: 'shut' } };
      // A regulated supply holds what it has filled up to until the tap is shut.
      return there ? { ...next, tap: { kind: 'keep', to: s.tap.to } } : next;
    },
    act: (s, { act, to = 0 }) => {
      switch (act) {
        case 'blank':
          return { ...s, blanked: true, kit: { mol: mol(kitVolume, s.wallK), temperature: s.wallK }, tap: { kind: 'shut' } };
        case 'join':
          return { ...s, blanked: false, tap: { kind: 'shut' } };
        case 'fill':
        case 'keep':
        case 'trim':
        case 'bleed':
          return { ...s, tap: { kind: act, to } };
        case 'shut':
          return { ...s, tap: { kind: 'shut' } };
        case 'isolate':
          return { ...s, tap: { kind: 'shut' }, secondOpen: true, second: { mol: mol(spec.second ?? 0, s.wallK), temperature: s.wallK } };
        default:
          throw new RangeError(`the rig ${spec.id} cannot ${act}`);
      }
    },
    values: (s) => ({ p1: shown(s), t1: s.gas.temperature, ...(spec.second === undefined ? {} : { p2: secondPressure(s) }) }),
    signs: (s): Signs => {
      const flow = conductance(s.fault.leak ?? 0) * Math.max(0, gasPressure(s));
      const bubbles = Object.fromEntries(Object.entries(s.fault.spots ?? {}).map(([spot, share]) => [spot, gradeOfFlow(flow * share)]));
      return { wrong: new Set(s.fault.wrong), bubbles };
    },
  };
}
