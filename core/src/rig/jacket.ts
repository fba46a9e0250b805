import type { Id } from '../procedure';
import type { Rig } from './rig';
import { waterGives } from './seaWater';

const BAR = 1e5;
/** A twelve-litre steel cylinder: its elastic growth for each bar, m³, and the mass of water that fills it. */
const ELASTIC = 0.17e-6;
const WATER_KG = 12;
const CELSIUS = 18;
const RAISE_BAR_S = 6;
const RELEASE_S = 2;
/** The calibrated cylinder grows by this for each bar, m³. */
const CALIBRATED = 0.15e-6;

interface JacketFault {
  /** Share of the total that stays. */
  readonly stays: number;
  readonly elastic?: number;
  /** The rig loses this share of its pressure a minute. */
  readonly rigLeak?: number;
  readonly scale?: number;
  readonly wrong?: readonly Id[];
}

const faults: Readonly<Record<string, JacketFault>> = {
  none: { stays: 0.02 },
  'wall has yielded': { stays: 0.14 },
  'thin wall': { stays: 0.02, elastic: 1.35 },
  'rig fitting': { stays: 0.02, rigLeak: 0.04 },
  'scale off': { stays: 0.02, scale: 1.04 },
  'crack inside': { stays: 0.02, wrong: ['inside'] },
};

export interface JacketState {
  readonly mode: 'rig' | 'calibrated' | 'jacket' | 'direct';
  /** Gauge pressure, Pa. */
  readonly pressure: number;
  /** Highest it has been, Pa: what has yielded does not come back. */
  readonly highest: number;
  readonly aim: number;
  /** The scale's reading when it was set to zero, m³. */
  readonly zero: number;
  readonly fault: JacketFault;
}

function expansion(s: JacketState): number {
  const bar = s.pressure / BAR;
  const scale = s.fault.scale ?? 1;
  if (s.mode === 'rig') return 0;
  if (s.mode === 'calibrated') return CALIBRATED * bar * scale;
  const elastic = ELASTIC * (s.fault.elastic ?? 1);
  const total = (pa: number): number => (elastic * (pa / BAR)) / (1 - s.fault.stays);
  const grown = (elastic * bar + total(s.highest) * s.fault.stays) * scale;
  if (s.mode === 'jacket') return grown;
  // Water forced in fills what the wall gives and what the water itself gives; its own mass under pressure is what was there and what came in.
  const forced = grown;
  return forced + waterGives(WATER_KG + forced * 998, bar, CELSIUS) * scale;
}

/** A cylinder under water pressure, in a jacket or by the water forced in. */
export const jacketRig: Rig<JacketState> = {
  id: 'jacket',
  title: 'Cylinder under water pressure',
  inputs: ['p1', 'w1', 't1'],
  actions: [
    { act: 'rig only', label: 'Rig closed, no cylinder' },
    { act: 'calibrated in', label: 'Calibrated cylinder in' },
    { act: 'cylinder in', label: 'Cylinder in the jacket' },
    { act: 'cylinder on', label: 'Cylinder on the pump' },
    { act: 'zero', label: 'Scale to zero' },
    { act: 'raise', label: 'Raise to', aims: true },
    { act: 'let down', label: 'Let down' },
  ],
  faults: Object.keys(faults),
  make: (name) => {
    const fault = faults[name];
    if (!fault) throw new RangeError(`the jacket has no fault ${name}`);
    return { mode: 'rig', pressure: 0, highest: 0, aim: 0, zero: 0, fault };
  },
  step: (s, dtS) => {
    const leak = s.mode === 'rig' ? (s.pressure * (s.fault.rigLeak ?? 0.0005) * dtS) / 60 : 0;
    const pressure =
      s.aim > s.highest ? Math.min(s.aim, s.pressure + RAISE_BAR_S * BAR * dtS) : s.aim === 0 ? s.pressure * Math.exp(-dtS / RELEASE_S) : s.pressure - leak;
    return { ...s, pressure, highest: Math.max(s.highest, pressure) };
  },
  act: (s, { act, to = 0 }) => {
    const fresh = { ...s, pressure: 0, highest: 0, aim: 0, zero: 0 };
    switch (act) {
      case 'rig only':
        return { ...fresh, mode: 'rig' };
      case 'calibrated in':
        return { ...fresh, mode: 'calibrated' };
      case 'cylinder in':
        return { ...fresh, mode: 'jacket' };
      case 'cylinder on':
        return { ...fresh, mode: 'direct' };
      case 'zero':
        return { ...s, zero: expansion(s) };
      case 'raise':
        return { ...s, aim: to };
      case 'let down':
        return { ...s, aim: 0 };
      default:
        throw new RangeError(`the jacket cannot ${act}`);
    }
  },
  values: (s) => ({ p1: s.pressure, w1: expansion(s) - s.zero, t1: CELSIUS + 273.15 }),
  signs: (s) => ({ wrong: new Set(s.fault.wrong), bubbles: {} }),
};
