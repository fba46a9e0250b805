import type { Rig } from './rig';

const INCH = 249.08891;
const CFH = 0.028316846592 / 3600;
const STAND = 2e-3;
const P0 = 101_325;

interface VentFault {
  /** Leaks at +2 and −4 inH2O, ft³/h, and where it opens, inH2O. */
  readonly leakPlus: number;
  readonly leakMinus: number;
  readonly opensPlus: number;
  readonly opensMinus: number;
  /** Loss of the capped stand, inH2O a minute. */
  readonly stand?: number;
}

const sound: VentFault = { leakPlus: 0.015, leakMinus: 0.06, opensPlus: 3.2, opensMinus: 6.6 };
const faults: Readonly<Record<string, VentFault>> = {
  none: sound,
  'dirt on the pressure seat': { ...sound, leakPlus: 0.12 },
  'dirt on the suction seat': { ...sound, leakMinus: 0.26 },
  'sticking disc': { ...sound, opensPlus: 7.5 },
  'stuck shut': { ...sound, opensPlus: 99, opensMinus: 99 },
  'stand fitting': { ...sound, stand: 1.5 },
};

/** What the stand lets its pressure come to, either way. */
const MOST = 12 * INCH;

export interface VentState {
  readonly pressure: number;
  readonly mode: 'rest' | 'cap' | 'still' | 'flow';
  readonly aim: number;
  /** Flow in, m³/s; negative is drawn out. */
  readonly flow: number;
  readonly cracked: boolean;
  readonly fault: VentFault;
}

/** A pressure-vacuum vent valve on its stand. */
export const ventRig: Rig<VentState> = {
  id: 'vent-stand',
  title: 'Vent valve on the stand',
  inputs: ['p1', 'f1'],
  actions: [
    { act: 'cap', label: 'Cap the stand, bring it to', aims: true },
    { act: 'still', label: 'Hold it still at', aims: true },
    { act: 'push', label: 'Flow in at 120 mL/min' },
    { act: 'draw', label: 'Draw at 200 mL/min' },
    { act: 'rest', label: 'Flow off' },
  ],
  faults: Object.keys(faults),
  make: (name) => {
    const fault = faults[name];
    if (!fault) throw new RangeError(`the vent stand has no fault ${name}`);
    return { pressure: 0, mode: 'rest', aim: 0, flow: 0, cracked: false, fault };
  },
  step: (s, dtS) => {
    const { fault } = s;
    if (s.mode === 'rest') return { ...s, flow: 0, pressure: s.pressure * Math.exp(-dtS / 0.5) };
    if (s.mode === 'cap') {
      const up = Math.min(s.aim, s.pressure + 5 * INCH * dtS);
      const reached = s.pressure >= s.aim * 0.999;
      return { ...s, aim: reached ? 0 : s.aim, pressure: (s.aim === 0 ? s.pressure : up) - ((fault.stand ?? 0.01) * INCH * dtS) / 60 };
    }
    // Past the seats air leaks as through a hole, with the root of the pressure; on the suction side it comes in.
    const inches = s.pressure / INCH;
    const leak = inches >= 0 ? fault.leakPlus * CFH * Math.sqrt(inches / 2) : -fault.leakMinus * CFH * Math.sqrt(-inches / 4);
    const opened = s.pressure >= 0 ? s.pressure > fault.opensPlus * INCH : s.pressure < -fault.opensMinus * INCH;
    const cracked = s.cracked || opened;
    // Once cracked, the disc floats well below where it opened.
    const shutAt = (s.pressure >= 0 ? fault.opensPlus : -fault.opensMinus) * INCH * 0.75;
    const through = cracked && s.mode === 'flow' ? ((s.pressure - shutAt) / (0.2 * INCH)) * Math.abs(s.flow) : 0;
    const past = s.pressure >= 0 ? Math.max(0, through) : Math.min(0, through);
    const flow = s.mode === 'still' ? leak + ((s.aim - s.pressure) / INCH) * 4e-6 : s.flow;
    // The stand's own relief keeps it within its gauge.
    const to = s.pressure + ((flow - leak - past) * P0 * dtS) / STAND;
    return { ...s, flow, cracked, pressure: Math.max(-MOST, Math.min(MOST, to)) };
  },
  act: (s, { act, to = 0 }) => {
    switch (act) {
      case 'cap':
        return { ...s, mode: 'cap', aim: to, pressure: 0, cracked: false };
      case 'still':
        return { ...s, mode: 'still', aim: to, pressure: 0, cracked: false };
      case 'push':
        return { ...s, mode: 'flow', flow: 120e-6 / 60, pressure: 0, cracked: false };
      case 'draw':
        return { ...s, mode: 'flow', flow: -200e-6 / 60, pressure: 0, cracked: false };
      case 'rest':
        return { ...s, mode: 'rest', cracked: false };
      default:
        throw new RangeError(`the vent stand cannot ${act}`);
    }
  },
  values: (s) => ({ p1: s.pressure, f1: Math.abs(s.flow) }),
  happening: (s) => new Set(s.cracked && s.mode === 'flow' ? ['cracked'] : []),
};
