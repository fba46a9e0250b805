import type { Grade, Id } from '../procedure';
import { STANDARD_ATMOSPHERE_PA as P0 } from '../physics';
import { admit, mix, R, release, soak, type Gas } from './gas';
import type { Rig } from './rig';

/** A suit, its test kit and a person at the taps. Pressures in Pa (gauge), volumes in m³, conductances in m³/(s·Pa) at the atmosphere. */
export interface SuitState {
  readonly suit: Gas;
  readonly kit: Gas;
  /** Volume that the skin has crept out to, beyond its elastic stretch. */
  readonly creep: number;
  readonly wallK: number;
  readonly driftKPerS: number;
  readonly leak: number;
  readonly kitLeak: number;
  readonly blanked: boolean;
  readonly bubbles?: Readonly<Record<Id, Grade>>;
  /** What the tap does: let gas in up to a pressure, keep it there, let it out down to one, or trim it either way until the tap is shut. */
  readonly tap: { readonly kind: 'shut' } | { readonly kind: 'fill' | 'keep' | 'bleed' | 'trim'; readonly to: number };
}

/** A large suit; compliance and creep are common orders of magnitude for coated fabric. */
const VOLUME = 0.2;
const COMPLIANCE = 1e-6; // 0.1 L/mbar
const CREEP = 0.1e-6; // a further 0.01 L/mbar, taken up slowly and given back as slowly
const CREEP_S = 40;
const SOAK_S = 14; // m·c_v/(h·A) of 200 L in a suit
const SLACK = 0.03; // lying flat
const KIT_VOLUME = 0.0006;
const KIT_SOAK_S = 2;
const SUPPLY_M3S = 0.008; // 480 L/min, throttled near the aim
const LET_DOWN_M3S = 0.0001; // slowly, or the gas cools and comes back up
const TRIM_UP_M3S = 0.0004;
const TAP_PA = 150; // the hand begins to throttle this far from its aim

const SOUND_LEAK = 5e-10;

/** Conductances: with about 0.34 m³ of effective volume, 1e-9 loses some 9 % in six minutes. */
interface SuitFault {
  readonly leak: number;
  readonly kitLeak: number;
  readonly driftKPerS: number;
  /** Where soap bubbles while it is full. */
  readonly bubbles?: Readonly<Record<Id, Grade>>;
}

const faults: Readonly<Record<string, SuitFault>> = {
  none: { leak: SOUND_LEAK, kitLeak: 1e-14, driftKPerS: 0 },
  'zip end': { leak: 6e-9, kitLeak: 1e-14, driftKPerS: 0, bubbles: { 'zip-end': 'stream' } },
  'valve seat': { leak: 9e-9, kitLeak: 1e-14, driftKPerS: 0, bubbles: { 'exhaust-valves': 'stream' } },
  // More goes out of it than the supply brings.
  'glove torn': { leak: 2e-5, kitLeak: 1e-14, driftKPerS: 0, bubbles: { gloves: 'grows' } },
  'kit joint': { leak: SOUND_LEAK, kitLeak: 1.2e-11, driftKPerS: 0 },
  'sun on the suit': { leak: SOUND_LEAK, kitLeak: 1e-14, driftKPerS: 0.004 },
};

function suitPressure(s: SuitState): number {
  const v0 = VOLUME + s.creep;
  const nRT = s.suit.mol * R * s.suit.temperature;
  if (nRT <= P0 * v0) return 0; // slack: it only swells
  // C·p² + (V + C·P0)·p − (nRT − P0·V) = 0, the root written so that nothing cancels
  const b = v0 + COMPLIANCE * P0;
  const c = nRT - P0 * v0;
  return (2 * c) / (b + Math.sqrt(b * b + 4 * COMPLIANCE * c));
}

function kitPressure(s: SuitState): number {
  return (s.kit.mol * R * s.kit.temperature) / KIT_VOLUME - P0;
}

const gaugePressure = (s: SuitState): number => (s.blanked ? kitPressure(s) : suitPressure(s));
const mol = (m3: number, kelvin: number): number => (P0 * m3) / (R * kelvin);

function tapFlow(s: SuitState): number {
  if (s.tap.kind === 'shut') return 0;
  const missing = s.tap.to - gaugePressure(s);
  const share = Math.max(-1, Math.min(1, missing / TAP_PA)) * (s.blanked ? 0.002 : 1);
  const up = Math.max(0, share) * (s.tap.kind === 'fill' ? SUPPLY_M3S : TRIM_UP_M3S);
  const down = s.tap.kind === 'bleed' || s.tap.kind === 'trim' ? Math.min(0, share) * LET_DOWN_M3S : 0;
  return s.tap.kind === 'bleed' ? down : up + down;
}

function flowed(gas: Gas, m3: number, wallK: number, slack: boolean): Gas {
  if (m3 > 0) return (slack ? mix : admit)(gas, mol(m3, wallK), wallK);
  return m3 < 0 ? release(gas, mol(-m3, gas.temperature)) : gas;
}

function reached(s: SuitState): boolean {
  if (s.tap.kind === 'shut' || s.tap.kind === 'keep' || s.tap.kind === 'trim') return false;
  return s.tap.kind === 'fill' ? gaugePressure(s) >= s.tap.to - 3 : gaugePressure(s) <= s.tap.to + 3;
}

function step(s: SuitState, dtS: number): SuitState {
  const wallK = s.wallK + s.driftKPerS * dtS;
  const pressure = suitPressure(s);
  const flow = tapFlow(s) * dtS;
  const lost = s.leak * pressure * dtS;
  const kitLost = s.kitLeak * Math.max(0, s.blanked ? kitPressure(s) : pressure) * dtS;
  let { suit, kit } = s;
  if (s.blanked) {
    kit = flowed(kit, flow, wallK, false);
    kit = release(kit, mol(kitLost, kit.temperature));
  } else {
    suit = flowed(suit, flow, wallK, pressure === 0);
    suit = release(suit, mol(kitLost, suit.temperature));
  }
  suit = soak(release(suit, mol(lost, suit.temperature)), wallK, SOAK_S, dtS);
  kit = soak(kit, wallK, KIT_SOAK_S, dtS);
  const creep = CREEP * pressure + (s.creep - CREEP * pressure) * Math.exp(-dtS / CREEP_S);
  const next = { ...s, suit, kit, wallK, creep };
  if (!reached(next)) return next;
  // The regulated supply holds what it has filled up to until the tap is shut; a bleed is shut by the hand.
  return { ...next, tap: s.tap.kind === 'fill' ? { kind: 'keep', to: s.tap.to } : { kind: 'shut' } };
}

/** A gas-tight suit lying flat, with the test kit joined to one of its valves. */
export const suitRig: Rig<SuitState> = {
  id: 'suit',
  title: 'Gas-tight suit on the bench',
  inputs: ['p1'],
  actions: [
    { act: 'blank', label: 'Blank the kit off' },
    { act: 'join', label: 'Join kit and suit' },
    { act: 'fill', label: 'Fill and hold at', aims: true },
    { act: 'keep', label: 'Keep topped up at', aims: true },
    { act: 'bleed', label: 'Let down to', aims: true },
    { act: 'trim', label: 'Trim to', aims: true },
    { act: 'shut', label: 'Shut the tap' },
  ],
  faults: Object.keys(faults),
  make: (fault, ambientK = 293.15, grown = 1) => {
    const set = faults[fault];
    if (!set) throw new RangeError(`the suit rig has no fault ${fault}`);
    const kit = { mol: mol(KIT_VOLUME, ambientK), temperature: ambientK };
    return {
      suit: { mol: mol(SLACK, ambientK), temperature: ambientK },
      kit,
      creep: 0,
      wallK: ambientK,
      ...set,
      leak: SOUND_LEAK + (set.leak - SOUND_LEAK) * grown,
      blanked: false,
      tap: { kind: 'shut' },
    };
  },
  step,
  act: (s, { act, to = 0 }) => {
    switch (act) {
      case 'blank':
        return { ...s, blanked: true, tap: { kind: 'shut' } };
      case 'join':
        return { ...s, blanked: false, kit: { mol: mol(KIT_VOLUME, s.wallK), temperature: s.wallK }, tap: { kind: 'shut' } };
      case 'fill':
      case 'keep':
      case 'bleed':
      case 'trim':
        return { ...s, tap: { kind: act, to } };
      case 'shut':
        return { ...s, tap: { kind: 'shut' } };
      default:
        throw new RangeError(`the suit rig cannot ${act}`);
    }
  },
  values: (s) => ({ p1: gaugePressure(s) }),
  signs: (s) => ({ wrong: new Set(), bubbles: s.bubbles ?? {} }),
};
