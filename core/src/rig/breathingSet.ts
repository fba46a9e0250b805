import { airZ, airZOfDensity, STANDARD_ATMOSPHERE_PA as P0 } from '../physics';
import type { Grade, Id } from '../procedure';
import { admit, R, release, soak, type Gas } from './gas';
import type { Rig } from './rig';

const BAR = 1e5;
const FILLING = 300 * BAR;
const CYLINDER = 6.8e-3;
/** What is trapped between cylinder valve and reducer. */
const LINE = 30e-6;
const LINE_SOAK_S = 8;
const OPEN_S = 1.5;
const BLEED_BAR_S = 1.2;

interface SetFault {
  /** Choked leak of the line, as a fall at full pressure, bar a minute. */
  readonly lineLeak: number;
  readonly alarmBar?: number;
  /** Where the whistle has no more air. */
  readonly endsBar?: number;
  readonly contentsBar?: number;
  readonly wrong?: readonly Id[];
  readonly bubbles?: Readonly<Record<Id, Grade>>;
}

const faults: Readonly<Record<string, SetFault>> = {
  none: { lineLeak: 1.5 },
  'line joint': { lineLeak: 26, bubbles: { 'hose-back': 'stream' } },
  'reducer creeps': { lineLeak: 14, bubbles: { reducer: 'grows' } },
  // It blows off faster than the valve lets in.
  'hose burst': { lineLeak: 30_000, bubbles: { 'hose-back': 'stream' } },
  'alarm for a third': { lineLeak: 1.5, alarmBar: 99 },
  'alarm for 55 bar': { lineLeak: 1.5, alarmBar: 53.5 },
  'late alarm': { lineLeak: 1.5, alarmBar: 30 },
  'whistle starves': { lineLeak: 1.5, endsBar: 45 },
  'alarm lamp dead': { lineLeak: 1.5, wrong: ['alarm-lamp'] },
  'half full': { lineLeak: 1.5, contentsBar: 190 },
  'outlet valve sticks': { lineLeak: 1.5, wrong: ['outlet'] },
  'free flow': { lineLeak: 1.5, wrong: ['first-breath'] },
};

export interface SetState {
  /** Air in the cylinder, mol, at the temperature of its walls. */
  readonly cylinderMol: number;
  readonly line: Gas;
  readonly wallK: number;
  readonly open: boolean;
  readonly bleeding: boolean;
  readonly fault: SetFault;
  readonly alarmPa: number;
  readonly endsPa: number;
}

/** Pressure of real air by its amount: p = Z·nRT/V. */
const realPressure = (mol: number, volume: number, kelvin: number): number => (airZOfDensity(mol / volume, kelvin) * mol * R * kelvin) / volume - P0;

const linePressure = (s: SetState): number => (s.line.mol * R * s.line.temperature) / LINE - P0;

/** A breathing set: a cylinder of real air, the little volume behind its valve, a whistle and what a look would find. */
export const breathingSetRig: Rig<SetState> = {
  id: 'breathing-set',
  title: 'Breathing set',
  inputs: ['p1', 'p2'],
  actions: [
    { act: 'open', label: 'Open the cylinder' },
    { act: 'shut', label: 'Shut the cylinder' },
    { act: 'bleed', label: 'Bleed slowly' },
    { act: 'stop', label: 'Stop bleeding' },
    { act: 'refill', label: 'Fill the cylinder' },
  ],
  faults: Object.keys(faults),
  make: (name, ambientK = 293.15) => {
    const fault = faults[name];
    if (!fault) throw new RangeError(`the breathing set has no fault ${name}`);
    const p = (fault.contentsBar ?? FILLING / BAR) * BAR + P0;
    return {
      cylinderMol: (p * CYLINDER) / (airZ(p, ambientK) * R * ambientK),
      line: { mol: (P0 * LINE) / (R * ambientK), temperature: ambientK },
      wallK: ambientK,
      open: false,
      bleeding: false,
      fault,
      alarmPa: (fault.alarmBar ?? 75) * BAR,
      endsPa: (fault.endsBar ?? 12) * BAR,
    };
  },
  step: (s, dtS) => {
    const cylinder = s.open ? realPressure(s.cylinderMol, CYLINDER, s.wallK) : 0;
    let line = s.line;
    let cylinderMol = s.cylinderMol;
    if (s.open) {
      const missing = Math.max(0, cylinder - linePressure(s)) * (1 - Math.exp(-dtS / OPEN_S));
      const moved = (missing * LINE) / (R * line.temperature);
      line = admit(line, moved, s.wallK);
      cylinderMol -= moved;
    }
    const p = linePressure({ ...s, line });
    const leak = ((s.fault.lineLeak / 60) * BAR * (p + P0)) / (FILLING + P0);
    const bleed = s.bleeding && p > 0 ? BLEED_BAR_S * BAR : 0;
    const out = ((leak + bleed) * dtS * LINE) / (R * line.temperature);
    line = p > 0 ? release(line, Math.min(out, Math.max(0, (p * LINE) / (R * line.temperature)))) : line;
    return { ...s, cylinderMol, line: soak(line, s.wallK, LINE_SOAK_S, dtS) };
  },
  act: (s, { act }) => {
    switch (act) {
      case 'open':
        return { ...s, open: true, bleeding: false };
      case 'shut':
        return { ...s, open: false };
      case 'bleed':
        return { ...s, bleeding: true };
      case 'refill':
        return { ...s, cylinderMol: ((FILLING + P0) * CYLINDER) / (airZ(FILLING + P0, s.wallK) * R * s.wallK), open: false };
      case 'stop':
        return { ...s, bleeding: false };
      default:
        throw new RangeError(`the breathing set cannot ${act}`);
    }
  },
  values: (s) => ({ p1: realPressure(s.cylinderMol, CYLINDER, s.wallK), p2: linePressure(s) }),
  happening: (s) => {
    const p = linePressure(s);
    const down = (share: number): boolean => s.bleeding && p <= share * FILLING;
    const now: readonly (readonly [string, boolean])[] = [
      ['three quarters', down(0.75)],
      ['half', down(0.5)],
      ['a quarter', down(0.25)],
      ['alarm', p > s.endsPa && p <= s.alarmPa],
      ['silence', s.bleeding && p <= s.endsPa],
      ['bled', s.bleeding && p <= 0.01 * BAR],
    ];
    return new Set(now.filter(([, is]) => is).map(([what]) => what));
  },
  signs: (s) => ({ wrong: new Set(s.fault.wrong), bubbles: s.fault.bubbles ?? {} }),
};
