import { describe, expect, it } from 'vitest';
import { calculate, calculationById, calculations, type Calculation } from '../../src/calculation';
import { unitRow, type Quantity } from '../../src/quantity';

const q = (value: number, unit: string): Quantity => ({ value, unit });
const of = (id: string): Calculation => {
  const found = calculationById(id);
  if (!found) throw new Error(id);
  return found;
};
const worked = (id: string, given: Readonly<Record<string, Quantity>>): Readonly<Record<string, number>> => {
  const outcome = calculate(of(id), given);
  if (!outcome.ok) throw new Error(outcome.why);
  return Object.fromEntries(outcome.results.map((r) => [r.title, r.value.value]));
};

describe('the calculator', () => {
  // Worked numbers: mole balance; isentropic flow; Gay-Lussac; Lemmon et al. (2000); 49 CFR 180.205. Six digits are shown.
  it.each<[string, Readonly<Record<string, Quantity>>, string, number]>([
    ['leak-from-decay', { volume: q(200, 'L'), start: q(16.5, 'mbar'), end: q(15, 'mbar'), time: q(360, 's') }, 'Leak at 20 °C and 1013.25 hPa', 49.3462],
    ['leak-from-decay', { volume: q(200, 'L'), start: q(1650, 'Pa'), end: q(1500, 'Pa'), time: q(6, 'min') }, 'Loss a minute', 0.25],
    ['temperature-effect', { pressure: q(16.5, 'mbar'), change: q(1, 'K'), loss: q(3, 'mbar') }, 'Change of the pressure', 3.51271],
    ['temperature-effect', { pressure: q(16.5, 'mbar'), change: q(1, 'Cel'), loss: q(3, 'mbar') }, 'Change of the pressure', 3.51271],
    ['half-life', { start: q(250, 'Pa'), end: q(125, 'Pa'), time: q(5, 'min') }, 'Half-life', 5],
    ['half-life', { start: q(16.5, 'mbar'), end: q(14.1, 'mbar'), time: q(360, 's') }, 'Half-life', 26.4583],
    ['contents', { water: q(6.8, 'L'), pressure: q(300, 'bar'), down: q(0, 'bar'), rate: q(40, 'L/min') }, 'Free air inside', 1832.34],
    ['contents', { water: q(6.8, 'L'), pressure: q(300, 'bar'), down: q(10, 'bar'), rate: q(40, 'L/min') }, 'Lasts', 43.9535],
    ['contents', { water: q(12, 'L'), pressure: q(200, 'bar'), down: q(0, 'bar'), rate: q(40, 'L/min') }, 'By the shorthand', 60],
    ['bag', { mass: q(22, 'kg') }, 'By mass', 3],
    [
      'ullage',
      { capacity1: q(10_000, '[gal_us]'), liquid1: q(6000, '[gal_us]'), capacity2: q(500, '[gal_us]'), liquid2: q(300, '[gal_us]') },
      'Ullage together',
      4200,
    ],
    [
      'ullage',
      { capacity1: q(10_000, '[gal_us]'), liquid1: q(6000, '[gal_us]'), capacity2: q(500, '[gal_us]'), liquid2: q(300, '[gal_us]') },
      'Tanks with too little',
      1,
    ],
    ['expansion', { total: q(168.4, 'mL'), permanent: q(4.7, 'mL') }, 'Permanent, of the total', 2.79097],
    ['expansion', { total: q(192.6, 'mL'), permanent: q(17.9, 'mL') }, 'Elastic', 174.7],
  ])('%s of %j: %s is %f', (id, given, title, value) => expect(worked(id, given)[title]).toBeCloseTo(value, Math.max(0, 5 - String(Math.trunc(value)).length)));

  it('a hole worked out from a flow passes that flow (0.5 mm at 10 mbar: 311.976 mL/min)', () =>
    expect(worked('equivalent-hole', { flow: q(311.9764, 'mL/min'), pressure: q(10, 'mbar') })['Diameter']).toBeCloseTo(0.5, 5));

  it.each(calculations.map((c) => [c.id, c] as const))('%s begins with figures that work, each of its kind', (_, c) => {
    const given = Object.fromEntries(c.inputs.map((i) => [i.id, i.first]));
    for (const i of c.inputs) expect(unitRow(i.first.unit)?.dimension).toBe(i.dimension);
    const outcome = calculate(c, given);
    expect(outcome.ok).toBe(true);
    if (outcome.ok) expect(outcome.results.length).toBeGreaterThan(0);
    for (const text of [c.formula, c.note, c.source]) expect(text.length).toBeGreaterThan(5);
  });

  it.each<[string, Readonly<Record<string, Quantity>>, string]>([
    ['half-life', { start: q(250, 'Pa'), time: q(5, 'min') }, 'Pressure at the end is missing.'],
    ['half-life', { start: q(250, 'Pa'), end: q(260, 'Pa'), time: q(5, 'min') }, 'the end must lie above nothing and below the start.'],
    ['half-life', { start: q(250, 's'), end: q(125, 'Pa'), time: q(5, 'min') }, 'Pressure at the start cannot be 250 s.'],
    ['bag', { mass: q(0, 'kg') }, 'a body mass must be above 0.'],
    ['expansion', { total: q(0, 'mL'), permanent: q(0, 'mL') }, 'without an expansion there is no share of it.'],
    ['leak-from-decay', { volume: q(200, 'L'), start: q(1650, 'Pa'), end: q(1500, 'Pa'), time: q(0, 'min') }, 'time, volume and temperatures must be above 0.'],
  ])('%s of %j says: %s', (id, given, why) => expect(calculate(of(id), given)).toEqual({ ok: false, why }));
  it('knows no calculation of another name', () => expect(calculationById('horoscope')).toBeUndefined());
});
