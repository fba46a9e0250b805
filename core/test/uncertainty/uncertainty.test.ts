import { cumulativeStdNormalProbability } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { conformance, guarded, normalCdf, ONE_SIDED_95, tooCoarse, uncertaintyOfLoss, uncertaintyOfRatio, uncertaintyOfReading } from '../../src/uncertainty';
import { driftEqualToLoss, pressurePerKelvin } from '../../src/physics';

const close = (got: number, wanted: number): void => expect(Math.abs(got - wanted)).toBeLessThanOrEqual(1e-6 * Math.abs(wanted));

describe('the normal distribution', () => {
  it.each([
    [0, 0.5],
    [1, 0.8413447460685429],
    [2, 0.9772498680518208],
    [2.5, 0.9937903346742238],
    [-3, 0.0013498980316300933],
    [-6, 9.865876450376981e-10],
    [ONE_SIDED_95, 0.95],
  ])('Φ(%s)', (x, p) => close(normalCdf(x), p));

  it('agrees with a table printed elsewhere', () => {
    for (let x = -3; x <= 3; x += 0.25) expect(normalCdf(x)).toBeCloseTo(cumulativeStdNormalProbability(x), 3);
    expect(normalCdf(40)).toBe(1);
    expect(() => normalCdf(Number.NaN)).toThrow(RangeError);
  });
});

describe('a gauge', () => {
  // F1: class 1.6 dial gauge 0–150 psi, read to 1 psi; own derivation, Monte-Carlo checked.
  const dial = (correlation: number) => ({ accuracy: 2.4, resolution: 1, correlation });
  it.each([
    [0, 2.001666],
    [0.5, 1.44453],
    [0.9, 0.7420692],
    [0.97, 0.5309112],
    [1, 0.4082483],
  ])('loses 2·u_a²·(1 − r) at r = %s', (r, u) => close(uncertaintyOfLoss(dial(r), 1), u));

  // F1: conformance at a limit of 3 psi, r = 0.
  it.each([
    [1, 0.8411433],
    [2, 0.6913159],
    [3, 0.5],
    [0, 0.933031],
  ])('at a loss of %s psi against 3', (loss, p) => expect(conformance(3 - loss, 2.001666)).toBeCloseTo(p, 6));

  // F2: digital manometer 0–20 inH2O, ±0.5 %, steps of 0.01.
  it.each([
    [0, 0.08175166],
    [0.5, 0.05787918],
    [0.9, 0.02614065],
    [1, 0.004082483],
  ])('digital manometer, r = %s', (r, u) => close(uncertaintyOfLoss({ accuracy: 0.1, resolution: 0.01, correlation: r }, 0.7), u));

  it('adds temperature, barometer and timing in quadrature', () => {
    close(uncertaintyOfLoss({ accuracy: 0.1, resolution: 0.01, correlation: 0 }, 0, { temperature: 0.1144133, barometer: 0, timing: 0 }), 0.1406191);
    close(uncertaintyOfLoss({ accuracy: 0, resolution: 0, correlation: 0 }, 2, { temperature: 0, barometer: 0.3, timing: 0.2 }), 0.5);
  });

  // DEC-E6: 0–10 bar class 1.6, resolution 0.1 (GUM 4.3.7, F.2.2.1).
  it('one reading, DEC-E6', () => expect(uncertaintyOfReading({ accuracy: 0.16, resolution: 0.1, correlation: 0 })).toBeCloseTo(0.096782, 6));

  it('a ratio of two readings keeps only what they do not share', () => {
    close(uncertaintyOfRatio({ accuracy: 0, resolution: 0.01 * Math.sqrt(12), correlation: 0 }, 2, 1.6), (0.01 * Math.sqrt(1 + 0.64)) / 2);
    expect(uncertaintyOfRatio({ accuracy: 1, resolution: 0, correlation: 1 }, 2, 2)).toBeCloseTo(0, 9);
  });
});

describe('decision rules (JCGM 106, ILAC-G8; from memory)', () => {
  // DEC-E1: limit 0.300, u = 0.010.
  it.each([
    [0.28, 0.97725],
    [0.29, 0.841345],
    [0.3, 0.5],
    [0.32, 0.02275],
  ])('conformance at %s', (x, p) => expect(conformance(0.3 - x, 0.01)).toBeCloseTo(p, 5));

  it('guarded at 95 %: pass, cannot tell, fail', () => {
    const at = (x: number): string => guarded(0.3 - x, 0.01, 0.95);
    expect([0.2835, 0.2836, 0.3164, 0.3165].map(at)).toEqual(['pass', 'undecided', 'undecided', 'fail']);
  });

  it('knows a gauge that could not show a pass at zero loss', () => {
    expect(tooCoarse(3, 2.001666)).toBe(true); // F1, r = 0: guard 3.292 > 3
    expect(tooCoarse(3, 0.7420692)).toBe(false); // F1, r = 0.9: guard 1.221
    expect(conformance(0, 0)).toBe(1);
    expect(conformance(-1e-9, 0)).toBe(0);
  });
});

describe('sensitivity of sealed gas (ideal gas law)', () => {
  it.each([
    [1650, 351.2707],
    [100 * 6894.757293, 2697.598],
    [4 * 249.08891, 349.041],
    [250, 346.495],
  ])('dp/dT at %s Pa', (gauge, perKelvin) => expect(pressurePerKelvin(gauge)).toBeCloseTo(perKelvin, 3));

  it.each([
    [1650, 300, 0.8540422],
    [4 * 249.08891, 0.8 * 249.08891, 0.5709104],
    [100 * 6894.757293168, 3 * 6894.757293168, 7.667664],
    [100 * 6894.757293168, 2 * 6894.757293168, 5.111776],
  ])('the drift that alone equals the limit, %s Pa', (gauge, loss, kelvin) => close(driftEqualToLoss(gauge, loss), kelvin));

  it('refuses a temperature that does not exist', () => expect(() => pressurePerKelvin(100, 0)).toThrow(RangeError));
});

describe('at the very edge, and where the terms hang together', () => {
  // By hand: with a scale error of standard uncertainty 1 and r = ½, u² = (1 + q²) − 2·q·½ over start².
  it.each([
    [10, 8, 0.5, Math.sqrt(1.64 - 0.8) / 10],
    [10, 8, 1, 0.02],
    [10, 20, 0.5, Math.sqrt(5 - 2) / 10],
    [10, 8, 0, Math.sqrt(1.64) / 10],
  ])('the ratio of %f and %f, correlated by %f', (start, end, correlation, u) =>
    expect(uncertaintyOfRatio({ accuracy: Math.sqrt(3), resolution: 0, correlation }, start, end)).toBeCloseTo(u, 12),
  );
  it('a gauge that just reaches is still too coarse, and a reading on the edge of the guard band is decided', () => {
    expect([tooCoarse(ONE_SIDED_95, 1), tooCoarse(ONE_SIDED_95 + 1e-12, 1)]).toEqual([true, false]);
    expect([guarded(0, 1, 0.5), guarded(1, 0, 1), guarded(-1, 0, 1)]).toEqual(['pass', 'pass', 'fail']);
  });
  // Abramowitz and Stegun 26.2, and 50-digit evaluations: the far tail to its own precision, not to that of 1.
  it.each([
    [-3, 1.3498980316300945e-3],
    [-6, 9.865876450376946e-10],
    [-10, 7.61985302416052e-24],
    [-20, 2.7536241186062337e-89],
  ])('Φ(%f) is exact in itself', (z, p) => expect(normalCdf(z) / p).toBeCloseTo(1, 10));
});
