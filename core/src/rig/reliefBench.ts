import type { Rig } from './rig';

const PSI = 6894.757293168361;
const SET = 100 * PSI;
const RAMP = 0.012 * SET; // a second
const OPEN_TAU_S = 0.5;
const BLEED_TAU_S = 1;

interface ReliefFault {
  /** Where it opens, as a share of set. */
  readonly opens: number;
  readonly shuts: number;
  /** Loss at the seat pressure, psi a minute. */
  readonly seat: number;
  readonly bubbles: number;
}

const faults: Readonly<Record<string, ReliefFault>> = {
  none: { opens: 1.008, shuts: 0.93, seat: 0.15, bubbles: 6 },
  'out of adjustment': { opens: 1.065, shuts: 0.98, seat: 0.15, bubbles: 6 },
  'weak spring': { opens: 0.93, shuts: 0.86, seat: 0.15, bubbles: 6 },
  'never opens': { opens: 9, shuts: 8, seat: 0.15, bubbles: 6 },
  'manifold leaks': { opens: 1.008, shuts: 0.93, seat: 4, bubbles: 6 },
  'scored seat': { opens: 1.008, shuts: 0.93, seat: 4, bubbles: 90 },
};

/** What the bench can bring, as a share of the set pressure. */
const MOST = 1.3;

export interface ReliefState {
  readonly pressure: number;
  readonly supply: boolean;
  readonly open: boolean;
  readonly aim: number | null;
  readonly bleeding: boolean;
  /** Seconds since it shut after a lift; null before. */
  readonly shutFor: number | null;
  readonly fault: ReliefFault;
}

/** A relief valve on a bench: a slow rise, a pop, a fall and a shut, drawn 200 times a second. */
export const reliefRig: Rig<ReliefState> = {
  id: 'relief-bench',
  title: 'Relief valve on the bench',
  inputs: ['p1', 'b1'],
  actions: [
    { act: 'lift', label: 'Raise slowly' },
    { act: 'isolate', label: 'Isolate' },
    { act: 'bleed', label: 'Bleed' },
    { act: 'hold at', label: 'Bring to', aims: true },
  ],
  faults: Object.keys(faults),
  everyMs: 5,
  stepMs: 5,
  make: (name) => {
    const fault = faults[name];
    if (!fault) throw new RangeError(`the relief bench has no fault ${name}`);
    return { pressure: 0, supply: false, open: false, aim: null, bleeding: false, shutFor: null, fault };
  },
  step: (s, dtS) => {
    const opens = s.fault.opens * SET;
    const shuts = s.fault.shuts * SET;
    const pressure = ((): number => {
      if (s.open) {
        // While it is open the bench flows out faster than it is fed, towards a pressure below where it shuts.
        const floor = shuts - 0.06 * SET;
        return floor + (s.pressure - floor) * Math.exp(-dtS / OPEN_TAU_S);
      }
      if (s.bleeding) return s.pressure * Math.exp(-dtS / BLEED_TAU_S);
      if (s.aim !== null) return Math.min(s.aim, s.pressure + 8 * RAMP * dtS);
      const seat = (s.fault.seat * PSI * dtS * s.pressure) / (60 * 0.9 * SET);
      // The bench's own regulator goes no higher.
      if (s.pressure >= MOST * SET) return s.pressure;
      return s.pressure + (s.supply ? (s.pressure < 0.85 * SET ? 10 * RAMP : RAMP) * dtS : 0) - seat;
    })();
    const open = s.open ? pressure > shuts : pressure >= opens;
    const shutNow = s.open && !open;
    return {
      ...s,
      pressure: shutNow ? shuts : pressure,
      open,
      supply: s.supply && !shutNow,
      shutFor: shutNow ? 0 : s.shutFor === null ? null : s.shutFor + dtS,
    };
  },
  act: (s, { act, to = 0 }) => {
    switch (act) {
      case 'lift':
        return { ...s, supply: true, aim: null, bleeding: false, shutFor: null };
      case 'isolate':
        return { ...s, supply: false, aim: null, bleeding: false };
      case 'bleed':
        return { ...s, supply: false, aim: null, bleeding: true, shutFor: null };
      case 'hold at':
        return { ...s, supply: false, aim: to, bleeding: false };
      default:
        throw new RangeError(`the relief bench cannot ${act}`);
    }
  },
  values: (s) => ({ p1: s.pressure, b1: (s.fault.bubbles * s.pressure) / (0.9 * SET) }),
  signs: (s) => ({ wrong: new Set(), bubbles: { seat: s.fault.bubbles > 40 && s.pressure > 0.5 * SET ? 'stream' : 'none' } }),
  happening: (s) => new Set(s.shutFor !== null && s.shutFor > 1.5 ? ['shut'] : []),
};
