import { describe, expect, it } from 'vitest';
import { findingInWords, reasonInWords, confidenceInWords, headline } from '../../src/run';
import { manometer } from '../testing/practiceRuns';
import { brakeScript, suitScript, type BrakeReadings, type Scripted, type SuitReadings } from '../testing/script';

const inH2O = "[in_i'H2O]";
const gauge = {
  ...manometer,
  low: { value: 0, unit: inH2O },
  high: { value: 20, unit: inH2O },
  resolution: { value: 0.01, unit: inH2O },
  accuracy: { value: 0.02, unit: inH2O },
};
const fourInch = (end: number, more: Partial<SuitReadings> = {}): Scripted =>
  suitScript({ ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end, settle: 60, hold: 240, instrument: gauge, ...more });
const find = (s: Scripted, stage: string, channel?: string) =>
  s.result.findings.find((f) => f.stage === stage && (channel === undefined || f.channel === channel));
const codes = (s: Scripted, stage = 'inflate'): string[] => find(s, stage)?.reasons.map((r) => r.code) ?? [];

describe('gas-tight suits, at the boundary and one step to each side', () => {
  // checks.md 1, each from memory: EN 464 with the limit of EN 943-1; ASTM F1052 with the usual 80 %; NFPA 1991; 29 CFR 1910.120 App. A.
  const cases: [string, Partial<SuitReadings> & Pick<SuitReadings, 'ruleSet' | 'unit' | 'fill' | 'start' | 'end' | 'settle' | 'hold'>, string, number][] = [
    [
      'SUIT-E1 EN 464: 16.5 → 14.0 mbar, 2.5 lost',
      { ruleSet: 'mbar-16.5', unit: 'mbar', fill: 17.6, letDown: 17, start: 16.5, end: 14, settle: 600, hold: 360 },
      'pass',
      83,
    ],
    [
      'SUIT-E1 EN 464: exactly 3.0 lost',
      { ruleSet: 'mbar-16.5', unit: 'mbar', fill: 17.6, letDown: 17, start: 16.5, end: 13.5, settle: 600, hold: 360 },
      'pass',
      100,
    ],
    [
      'SUIT-E1 EN 464: 3.01 lost',
      { ruleSet: 'mbar-16.5', unit: 'mbar', fill: 17.6, letDown: 17, start: 16.5, end: 13.49, settle: 600, hold: 360 },
      'fail',
      100,
    ],
    [
      'the same in Pa: 1650 → 1350',
      { ruleSet: 'mbar-16.5', unit: 'Pa', fill: 1760, letDown: 1700, start: 1650, end: 1350, settle: 600, hold: 360 },
      'pass',
      100,
    ],
    [
      'the same in Pa: 1650 → 1349',
      { ruleSet: 'mbar-16.5', unit: 'Pa', fill: 1760, letDown: 1700, start: 1650, end: 1349, settle: 600, hold: 360 },
      'fail',
      100,
    ],
    ['SUIT-E2 F1052: 3.20 left', { ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end: 3.2, settle: 60, hold: 240 }, 'pass', 100],
    ['SUIT-E2 F1052: 3.19 left', { ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end: 3.19, settle: 60, hold: 240 }, 'fail', 101],
    ['NFPA 1991: 80 mm left', { ruleSet: 'mm-h2o-100', unit: 'mm[H2O]', fill: 127, start: 100, end: 80, settle: 60, hold: 240 }, 'pass', 100],
    ['NFPA 1991: 79 mm left', { ruleSet: 'mm-h2o-100', unit: 'mm[H2O]', fill: 127, start: 100, end: 79, settle: 60, hold: 240 }, 'fail', 105],
    ['29 CFR 1910.120: 1.60 of 2.00 left', { ruleSet: 'in-h2o-2', unit: inH2O, fill: 3.2, start: 2, end: 1.6, settle: 60, hold: 180 }, 'pass', 100],
    ['29 CFR 1910.120: 1.59 of 2.00 left', { ruleSet: 'in-h2o-2', unit: inH2O, fill: 3.2, start: 2, end: 1.59, settle: 60, hold: 180 }, 'fail', 103],
    ['29 CFR 1910.120: 1.63 of 2.04, 79.9 %', { ruleSet: 'in-h2o-2', unit: inH2O, fill: 3.2, start: 2.04, end: 1.63, settle: 60, hold: 180 }, 'fail', 100],
  ];
  it.each(cases)('%s', (_what, readings, verdict, used) => {
    const s = suitScript(readings);
    expect(find(s, 'inflate')).toMatchObject({ verdict, allowancePercent: used });
    expect(s.result.verdict).toBe(verdict);
    expect(s.result.blocks).toBe(verdict === 'fail');
  });

  it('says the arithmetic: 81 % of the allowance', () => {
    const f = find(fourInch(3.35), 'inflate');
    expect(f && findingInWords(f)).toBe('4.00 − 3.35 = 0.65 inH2O in 4 min; allowed 0.80: 3.2 inH2O must be left; 81 % of the allowance');
    expect(f && confidenceInWords(f)).toMatch(/over 99 % sure/);
    expect(f?.observed).toEqual({ value: 3.35, unit: inH2O });
  });
});

describe('air brakes, at the boundary and one step to each side', () => {
  const still = [120, 119, 120, 119] as const;
  // AIR-E4 and checks.md 7.1: static "less than" is strict, applied "more than … too much" is inclusive. CDL manual §5, from memory.
  const cases: [string, BrakeReadings, string, string, string][] = [
    ['single static 1.9', { ruleSet: 'single', static: [120, 118.1, 120, 120], applied: [120, 112, 110, 120, 112, 110] }, 'static', 'pass', 'pass'],
    ['single static exactly 2', { ruleSet: 'single', static: [120, 118, 120, 120], applied: [120, 112, 110, 120, 112, 110] }, 'static', 'fail', 'fail'],
    ['combination static 2.9', { ruleSet: 'combination', static: [120, 117.1, 120, 120], applied: [120, 112, 110, 120, 112, 110] }, 'static', 'pass', 'pass'],
    [
      'combination static exactly 3',
      { ruleSet: 'combination', static: [120, 117, 120, 120], applied: [120, 112, 110, 120, 112, 110] },
      'static',
      'fail',
      'fail',
    ],
    ['bus A static exactly 2', { ruleSet: 'bus-a', static: [120, 118, 120, 120], applied: [120, 112, 110, 120, 112, 110] }, 'static', 'pass', 'pass'],
    ['single applied exactly 3', { ruleSet: 'single', static: still, applied: [120, 112, 109, 120, 112, 110] }, 'applied', 'pass', 'pass'],
    ['single applied 3.1', { ruleSet: 'single', static: still, applied: [120, 112, 108.9, 120, 112, 110] }, 'applied', 'fail', 'fail'],
    ['combination applied exactly 4', { ruleSet: 'combination', static: still, applied: [120, 112, 108, 120, 112, 110] }, 'applied', 'pass', 'pass'],
    ['combination applied 4.1', { ruleSet: 'combination', static: still, applied: [120, 112, 107.9, 120, 112, 110] }, 'applied', 'fail', 'fail'],
    ['the secondary is recorded, not judged', { ruleSet: 'single', static: still, applied: [120, 112, 110, 120, 112, 100] }, 'applied', 'pass', 'pass'],
    ['fire apparatus judges both', { ruleSet: 'fire-apparatus', applied: [120, 112, 110, 120, 112, 108.9] }, 'applied', 'pass', 'fail'],
    ['build from low, two units, exactly 4', { ruleSet: 'build-from-low', units: 2, applied: [120, 112, 108, 120, 112, 110] }, 'applied', 'pass', 'pass'],
    ['build from low, one unit, 3.1', { ruleSet: 'build-from-low', applied: [120, 112, 108.9, 120, 112, 110] }, 'applied', 'fail', 'fail'],
    ['build from low, three units, exactly 6', { ruleSet: 'build-from-low', units: 3, applied: [120, 112, 106, 120, 112, 110] }, 'applied', 'pass', 'pass'],
  ];
  it.each(cases)('%s', (_what, readings, stage, primary, run) => {
    const s = brakeScript(readings);
    expect(find(s, stage, 'primary')?.verdict).toBe(primary);
    expect(s.result.verdict).toBe(run);
  });

  it.each([
    [15, 'pass'],
    [15.1, 'fail'],
  ])('bus B keeps the first drop apart: %s psi', (drop, verdict) => {
    const s = brakeScript({ ruleSet: 'bus-b', applied: [125, 125 - drop, 124 - drop, 125, 110, 109] });
    const first = s.result.findings.find((f) => f.limit?.of === 'firstDrop');
    const minute = s.result.findings.find((f) => f.limit?.of === 'loss');
    expect(first).toMatchObject({ verdict, observed: { value: drop } });
    expect(minute).toMatchObject({ verdict: 'pass', observed: { value: 1 } });
    expect(first && findingInWords(first)).toContain('First drop');
  });

  it('build from low runs its minute from the pedal', () => {
    const tooSoon = brakeScript({ ruleSet: 'build-from-low', applied: [120, 112, 110, 120, 112, 110], hold: 59 });
    expect(codes(tooSoon, 'applied')).toContain('holdShort');
    expect(brakeScript({ ruleSet: 'build-from-low', applied: [120, 112, 110, 120, 112, 110], hold: 60 }).result.verdict).toBe('pass');
  });
});

describe('what is no valid test', () => {
  const table: [string, Partial<SuitReadings>, string][] = [
    ['a hold one second short', { hold: 239 }, 'holdShort'],
    ['settled one second short', { settle: 59 }, 'waitShort'],
    ['filled short of the window', { fill: 4.99 }, 'notReached'],
    ['a start under the window', { start: 3.99 }, 'notReached'],
    ['a start over the window', { start: 4.09 }, 'notReached'],
    ['an instrument out of calibration', { instrument: { ...gauge, calibrationDue: '2026-11-24' } }, 'calibrationOut'],
    ['an instrument never calibrated', { instrument: { ...gauge, calibrationDue: null } }, 'calibrationOut'],
    ['readings beyond the instrument', { instrument: { ...gauge, high: { value: 3.5, unit: inH2O } } }, 'outOfRange'],
    ['a clock that stood still in the hold', { during: [[100, { kind: 'gap', wallMs: 30_000, tickMs: 0 }]] }, 'clockGap'],
  ];
  it.each(table)('%s', (_what, change, code) => {
    const s = fourInch(3.6, change);
    expect(find(s, 'inflate')?.verdict).toBe('void');
    expect(codes(s)).toContain(code);
    expect(s.result).toMatchObject({ verdict: 'void', blocks: false });
  });

  it('the last day of calibration still counts', () =>
    expect(fourInch(3.6, { instrument: { ...gauge, calibrationDue: '2026-11-25' } }).result.verdict).toBe('pass'));
  it('a gauge fitted to the item needs no date', () =>
    expect(fourInch(3.6, { instrument: { ...gauge, fitted: true, calibrationDue: null } }).result.verdict).toBe('pass'));

  it('a leak in a broken-off hold fails only when it could no longer pass', () => {
    expect(find(fourInch(2.5, { hold: 100, endReason: 'hopeless' }), 'inflate')?.verdict).toBe('fail');
    expect(codes(fourInch(2.5, { hold: 100, endReason: 'hopeless' }))).toContain('endedHopeless');
    expect(find(fourInch(3.19, { hold: 100, endReason: 'impatient' }), 'inflate')?.verdict).toBe('void');
    expect(find(fourInch(3.6, { hold: 100, endReason: 'impatient' }), 'inflate')?.verdict).toBe('void');
  });
});

describe('what it says beside the verdict', () => {
  it('a late reading can only have lost more: a pass stands, a fail is tried at the rate seen', () => {
    expect(find(fourInch(3.6, { hold: 300 }), 'inflate')?.verdict).toBe('pass');
    expect(codes(fourInch(3.6, { hold: 300 }))).toContain('readLate');
    expect(find(fourInch(3.1, { hold: 300 }), 'inflate')?.verdict).toBe('undecided'); // 0.9 in 5 min is 0.72 in 4
    expect(find(fourInch(2.9, { hold: 300 }), 'inflate')?.verdict).toBe('fail'); // 1.1 in 5 min is 0.88 in 4
  });

  it('a rise beyond the gauge’s error is never tight', () => {
    const s = fourInch(4.1);
    expect(find(s, 'inflate')).toMatchObject({ verdict: 'undecided', allowancePercent: 0 });
    expect(codes(s)).toContain('rose');
    expect(find(fourInch(4), 'inflate')?.verdict).toBe('pass');
  });

  it('a gauge that could not show a pass at no loss at all leaves a pass undecided, and never saves a fail', () => {
    const coarse = { ...gauge, accuracy: { value: 1, unit: inH2O }, correlation: 0 };
    expect(find(fourInch(3.9, { instrument: coarse }), 'inflate')?.verdict).toBe('undecided');
    expect(codes(fourInch(3.9, { instrument: coarse }))).toEqual(expect.arrayContaining(['tooCoarse', 'noCorrelation']));
    expect(find(fourInch(3.1, { instrument: coarse }), 'inflate')?.verdict).toBe('fail');
  });

  it('flags a close call, a disturbance, an overshoot, and the drift that alone would equal the limit', () => {
    expect(codes(fourInch(3.21))).toContain('closeCall');
    expect(codes(fourInch(3.6, { during: [[30, { kind: 'disturbed', note: 'a dog' }]] }))).toContain('disturbed');
    expect(codes(fourInch(3.6, { during: [[-200, { kind: 'reading', channel: 'suit', quantity: { value: 6.2, unit: inH2O } }]] }))).toContain('overTop');
    const drift = find(fourInch(3.6), 'inflate')?.reasons.find((r) => r.code === 'driftEqual');
    expect((drift?.values['drift'] as { value: number }).value).toBeCloseTo(0.5709104, 6); // physics: 0.8 inH2O at 4 inH2O
    expect(drift && reasonInWords(drift)).toContain('0.57 K');
  });

  it('puts what went wrong first', () => {
    const s = brakeScript({ ruleSet: 'single', static: [120, 119, 120, 119], applied: [120, 112, 105, 120, 112, 110] });
    expect(headline(s.plan, s.result.findings)).toMatchObject({ stage: 'applied', channel: 'primary', verdict: 'fail' });
  });
});
