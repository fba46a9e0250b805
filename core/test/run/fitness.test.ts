import { describe, expect, it } from 'vitest';
import { setupFor } from '../../src/practice';
import { catalogue, figureOf, procedureById } from '../../src/procedure';
import type { Quantity } from '../../src/quantity';
import { instrumentFitness, planOfRun, type InstrumentCopy, type UnfitCode } from '../../src/run';
import { planOf, practised } from '../testing/attempt';

const on = '2026-11-25';
const q = (value: number, unit = 'mbar'): Quantity => ({ value, unit });
const suit = planOf('suit.inflation', 'mbar-16.5', { suit: { openFaced: false, exhaustValves: q(2, '1'), adapters: q(2, '1'), volume: q(200, 'L') } });
const gauge: InstrumentCopy = {
  id: 'PL-01',
  fitted: false,
  low: q(0),
  high: q(50),
  resolution: q(0.01),
  accuracy: q(0.05),
  correlation: 0.9,
  calibrationDue: '2027-01-01',
};
const against = (change: Partial<InstrumentCopy>, plan = suit, channel = 'suit'): readonly UnfitCode[] =>
  instrumentFitness(plan, channel, { ...gauge, ...change }, on).against.map((a) => a.code);

describe('whether an instrument may stand for a channel', () => {
  it.each<[string, Partial<InstrumentCopy>, string, readonly UnfitCode[]]>([
    ['a good one', {}, 'fits', []],
    ['on its last day of calibration', { calibrationDue: on }, 'fits', []],
    ['a day later', { calibrationDue: '2026-11-24' }, 'unfit', ['calibrationOut']],
    ['never calibrated', { calibrationDue: null }, 'unfit', ['calibrationOut']],
    ['fitted to the item', { calibrationDue: null, fitted: true }, 'fits', []],
    ['that ends below the window', { high: q(15) }, 'unfit', ['rangeShort']],
    ['in another unit, wide enough', { low: q(0, 'Pa'), high: q(5000, 'Pa') }, 'fits', []],
    ['of another kind', { low: q(0, 'Cel'), high: q(50, 'Cel') }, 'unfit', ['otherKind']],
    // The kit may lose a tenth of 3 mbar: a step of over 0.1 mbar is coarse; u(0) must be under 0.3/1.645 = 0.182 mbar.
    ['with coarse steps', { resolution: q(0.11) }, 'careful', ['coarse']],
    ['that could not prove it', { accuracy: q(0.8), correlation: 0.9 }, 'careful', ['cannotProve']],
    ['that could, because its errors go together', { accuracy: q(0.8), correlation: 0.99 }, 'fits', []],
  ])('%s', (_, change, fit, codes) => {
    expect(instrumentFitness(suit, 'suit', { ...gauge, ...change }, on).fit).toBe(fit);
    expect(against(change)).toEqual(codes);
  });
  it('is as the rule asks: of no longer a scale, and calibrated no longer ago than 180 days', () => {
    const vent = planOf('valve.vent', 'in-order', { valve: {} });
    const manometer: InstrumentCopy = { ...gauge, low: q(-50), high: q(49.8), calibratedOn: '2026-05-29' };
    const of = (change: Partial<InstrumentCopy>) => instrumentFitness(vent, 'pressure', { ...manometer, ...change }, on).against.filter((a) => a.code === 'notAsAsked').map((a) => a.words); // prettier-ignore
    expect(of({})).toEqual([]);
    expect(of({ calibratedOn: '2026-05-28' })).toEqual(['The rule asks for a calibration within 180 d: this one was calibrated 181 d ago.']);
    for (const calibratedOn of [null, '2026-11-26'])
      expect(of({ calibratedOn })).toEqual(['The rule asks for a calibration within 180 d: nobody knows when this one was calibrated.']);
    expect(of({ high: q(60) })).toEqual(['The rule asks for a gauge of no more than 20 inH2O: this one reads to 60 mbar.']);
    expect(instrumentFitness(vent, 'pressure', { ...manometer, calibratedOn: null }, on).fit).toBe('unfit');
  });
  it('says it in words, with figures', () =>
    expect(instrumentFitness(suit, 'suit', { ...gauge, high: q(15) }, on).against[0]?.words).toMatch(
      /^It cannot show 16\.\d+ mbar: it reads 0 mbar to 15 mbar\.$/,
    ));
  it('must reach the limits that are judged on it, and not only the figures of its steps', () => {
    const [limit] = suit.limits;
    if (!limit) throw new Error('the suit has no limit');
    const high = { ...suit, limits: [...suit.limits, { ...limit, of: 'end' as const, resolved: q(49.5) }] };
    expect(against({}, high)).toEqual([]);
    expect(against({ high: q(49) }, high)).toEqual(['rangeShort']);
    expect(against({ high: q(49) })).toEqual([]);
  });
  it('says of each stage whether it can decide it, and what would', () => {
    const decides = (change: Partial<InstrumentCopy>) => instrumentFitness(suit, 'suit', { ...gauge, ...change }, on).decides;
    expect(decides({}).map((d) => [d.stage, d.loss.value, d.can, d.would])).toEqual([
      ['rig-proof', 0.3, true, null],
      ['inflate', 3, true, null],
    ]);
    // u(0) = √(2·(0.8²/3)·0.1 + 2·(0.01²/12)) = 0.2066 mbar; 1.645·u = 0.34 is more than the kit may lose, and less than the suit may.
    const coarse = decides({ accuracy: q(0.8) });
    expect(coarse.map((d) => d.can)).toEqual([false, true]);
    const would = coarse[0]?.would;
    expect(would).toEqual({ accuracy: q(0.6), resolution: q(0.007) });
    expect(decides({ accuracy: would?.accuracy ?? q(9), resolution: would?.resolution ?? q(9) }).every((d) => d.can)).toBe(true);
    expect(decides({ accuracy: q(0.8), fitted: true }).every((d) => d.can)).toBe(true);
  });
  it('a channel that there is not', () => expect(instrumentFitness(suit, 'boot', gauge, on).fit).toBe('unfit'));

  it.each(catalogue.flatMap((p) => p.ruleSets.map((r) => [p.id, r.id] as const)))('the practice gauges of %s under %s can do their work', (id, ruleSet) => {
    const setup = setupFor(id, ruleSet);
    const plan = practised(id, ruleSet);
    for (const [channel, instrument] of Object.entries(setup.instruments)) {
      const { against: found } = instrumentFitness(plan, channel, instrument, on);
      expect(
        found.filter((a) => ['otherKind', 'calibrationOut', 'rangeShort'].includes(a.code)),
        channel,
      ).toEqual([]);
    }
  });
  it('a figure that a plan has not is a mistake', () => expect(() => figureOf(suit, 'nothing')).toThrow(RangeError));
});

/** What each instrument of the practice benches is good for, and what is said against it when it is another. */
describe('every gauge of the catalogue', () => {
  const DAY = '2026-11-28';
  const others: Readonly<Record<string, (i: InstrumentCopy) => InstrumentCopy>> = {
    'as it is': (i) => i,
    'ten times coarser': (i) => ({ ...i, resolution: { ...i.resolution, value: i.resolution.value * 10 } }),
    'a third of the loss': (i) => ({ ...i, resolution: { ...i.resolution, value: i.resolution.value * 30 } }),
    'of large errors': (i) => ({ ...i, accuracy: { ...i.accuracy, value: i.accuracy.value * 50 }, correlation: 0 }),
    'of a short scale': (i) => ({ ...i, high: { ...i.high, value: i.high.value / 20 } }),
    'of a scale that begins late': (i) => ({ ...i, low: { ...i.low, value: i.high.value * 0.9 } }),
    'out of date': (i) => ({ ...i, fitted: false, calibrationDue: '2026-11-27' }),
    'on its last day': (i) => ({ ...i, fitted: false, calibrationDue: DAY }),
    'never calibrated': (i) => ({ ...i, fitted: false, calibrationDue: null }),
    'fitted, never calibrated': (i) => ({ ...i, fitted: true, calibrationDue: null }),
    'of another kind': (i) => ({ ...i, low: { value: 0, unit: 'kg' } }),
  };
  it.each(catalogue.flatMap((p) => p.ruleSets.map((r) => [p.id, r.id] as const)))('%s, %s', (procedure, ruleSet) => {
    const document = procedureById(procedure);
    if (!document) throw new Error('unreachable: it is of the catalogue');
    const setup = setupFor(procedure, ruleSet);
    const planned = planOfRun(document, { startedAt: '2026-11-28T08:00:00Z', procedure: '0'.repeat(64), ruleSet, assets: setup.assets, instruments: setup.instruments, clock: 'simulated', ...(setup.lists ? { lists: setup.lists } : {}), ...(setup.tables ? { tables: setup.tables } : {}) }); // prettier-ignore
    if (!planned.ok) throw new Error(planned.refusal.code);
    const said = Object.entries(setup.instruments).flatMap(([channel, i]) =>
      Object.entries(others).map(([name, change]) => {
        const { fit, against } = instrumentFitness(planned.plan, channel, change(i), DAY);
        return `${channel} ${name}: ${fit}${against.map((a) => `; ${a.code}: ${a.words}`).join('')}`;
      }),
    );
    expect(said).toMatchSnapshot();
    expect(instrumentFitness(planned.plan, 'nothing', Object.values(setup.instruments)[0] ?? gauge, DAY).against[0]?.words).toBe('It does not read nothing.');
  });
});
