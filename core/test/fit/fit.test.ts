import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import { linearRegression } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { chanceAtLeast, findLifts, fitDecay, fitSettling, fTail, halfLifeOf, leastSquares, logFit, predict, reweightedLogFit, settled, settlingWait, studentCdf, studentQuantile, type Points } from '../../src/fit'; // prettier-ignore
import { pureRamp, reliefTrace, mulberry32, normalFrom } from '../testing/reliefTrace';

const near = (got: number, want: number, relative = 1e-6): void =>
  expect(Math.abs(got - want), `${got} is not ${want}`).toBeLessThanOrEqual(Math.abs(want) * relative);

const t = Array.from({ length: 16 }, (_, i) => 20 * i);
const rounded: Points = { t, p: [250.0, 238.7, 227.9, 217.6, 207.8, 198.4, 189.5, 180.9, 172.7, 164.9, 157.5, 150.4, 143.6, 137.1, 130.9, 125.0] };
const noisy: Points = { t, p: [250.8, 240.5, 225.3, 218.3, 209.3, 201.9, 187.8, 187.7, 170.3, 161.3, 155.3, 152.3, 146.6, 138.3, 127.7, 126.6] };
const suit: Points = {
  t: Array.from({ length: 13 }, (_, i) => 10 * i),
  p: [16.5, 16.4, 16.32, 16.28, 16.2, 16.16, 16.02, 15.98, 15.9, 15.88, 15.82, 15.74, 15.66],
};
const settling: Points = {
  t: [0, 5, 10, 15, 20, 30, 40, 50, 60, 75, 90, 110, 130, 150, 180, 210, 240, 280, 320, 360],
  p: [
    17.703, 17.506, 17.343, 17.194, 17.055, 16.841, 16.646, 16.497, 16.366, 16.201, 16.068, 15.914, 15.751, 15.659, 15.468, 15.293, 15.14, 14.911, 14.717,
    14.482,
  ],
};

describe('fits of a decay (Seber & Wild; Bates & Watts; from memory)', () => {
  it.each([
    ['rounded', rounded, 249.981, 0.002310266, 300.0292, 299.9344, 300.1241],
    ['noisy', noisy, 250.807, 0.002316699, 299.196, 287.0941, 312.3631],
    ['suit', suit, 16.47562, 0.0004215229, 1644.388, 1557.005, 1742.162],
  ])('%s: p0, λ and half-life with its interval', (_, points, p0, lambda, half, low, high) => {
    const fit = fitDecay(points);
    near(fit.p0, p0);
    near(fit.lambda, lambda);
    const found = halfLifeOf(fit);
    near(found.value, half);
    near(found.low, low);
    near(found.high, high);
  });

  it('the noisy one has the errors of its sheet', () => {
    const fit = fitDecay(noisy);
    near(fit.seLambda, 4.553185e-5);
    near(fit.seP0, 1.622258);
    near(fit.covariance / (fit.seLambda * fit.seP0), 0.7883617);
    near(Math.sqrt(fit.variance), 2.949481);
  });

  it.each([
    ['plain', (x: Points) => logFit(x, x.p.map(() => 1)), 250.8209, 0.002318123, 4.73034e-5], // prettier-ignore
    ['weighted by p²', (x: Points) => logFit(x, x.p.map((v) => v * v)), 250.8312, 0.002314588, 4.565107e-5], // prettier-ignore
    ['weighted anew', reweightedLogFit, 250.7991, 0.002317404, 4.542306e-5],
  ])('log fit, %s', (_, fitted, p0, lambda, se) => {
    const fit = fitted(noisy);
    near(fit.p0, p0);
    near(fit.lambda, lambda);
    near(fit.seLambda, se);
  });

  it('agrees with ml-levenberg-marquardt, and its log fit with simple-statistics', () => {
    const other = levenbergMarquardt({ x: noisy.t, y: noisy.p }, ([a = 0, l = 0]) => (x: number) => a * Math.exp(-l * x), { initialValues: [250, 0.002], damping: 1e-3, maxIterations: 500, gradientDifference: 1e-7 }); // prettier-ignore
    const fit = fitDecay(noisy);
    near(fit.p0, other.parameterValues[0] ?? 0, 1e-4);
    near(fit.lambda, other.parameterValues[1] ?? 0, 1e-4);
    const line = linearRegression(noisy.t.map((x, i) => [x, Math.log(noisy.p[i] ?? 1)]));
    near(logFit(noisy, noisy.p.map(() => 1)).lambda, -line.m); // prettier-ignore
  });

  it('is not led astray by readings at or below zero, and not biased where the signal is small', () => {
    const normal = normalFrom(mulberry32(7));
    const truth = Math.LN2 / 300;
    const times = Array.from({ length: 20 }, (_, i) => (900 / 19) * i);
    const found = Array.from({ length: 400 }, () => fitDecay({ t: times, p: times.map((x) => 250 * Math.exp(-truth * x) + 15 * normal()) }).lambda);
    const mean = found.reduce((a, b) => a + b, 0) / found.length;
    // Standard error of this mean is about 0.3 %; a fit of logarithms is off by 5 %.
    expect(Math.abs(mean / truth - 1)).toBeLessThan(0.012);
  });

  it('foretells the end of a hold', () => {
    const p = predict(fitDecay(suit), 360);
    near(p.value, 14.15593);
    near(p.se, 0.04617734);
    near(p.curve.low, 14.05429);
    near(p.reading.high, 14.26976);
    expect(chanceAtLeast(fitDecay(suit), 360, 13.5)).toBeGreaterThan(0.999);
    expect(chanceAtLeast(fitDecay(suit), 360, 15)).toBeLessThan(0.001);
    expect(chanceAtLeast({ ...fitDecay(suit), variance: 0, seP0: 0, seLambda: 0, covariance: 0 }, 360, 14)).toBe(1);
    expect(chanceAtLeast({ ...fitDecay(suit), variance: 0, seP0: 0, seLambda: 0, covariance: 0 }, 360, 15)).toBe(0);
  });

  it('says endless where no leak can be told from none', () => {
    const flat = halfLifeOf(fitDecay({ t: [0, 10, 20, 30], p: [100, 100.1, 99.9, 100] }));
    expect(flat.high).toBe(Number.POSITIVE_INFINITY);
    expect(() => fitDecay({ t: [0, 1], p: [1, 1] })).toThrow(RangeError);
    expect(() => logFit({ t: [0, 1, 2], p: [1, 0, 1] }, [1, 1, 1])).toThrow(RangeError);
  });
});

describe('settling', () => {
  it('tells a leak from the settling on top of it', () => {
    const fit = fitSettling(settling);
    near(fit?.leak.amplitude ?? 0, 16.49549);
    near(fit?.leak.lambda ?? 0, 0.0003596482);
    near(fit?.settling.amplitude ?? 0, 1.202828);
    near(fit?.settling.mu ?? 0, 0.02823216);
    near(fit?.squares ?? 0, 0.001220788);
    near(fit?.f ?? 0, 8046.638);
    near(fit?.standardErrors[3] ?? 0, 0.0005578116);
    expect(fit?.chance).toBeLessThan(1e-12);
  });

  it('a single decay has no quick term that is no accident', () => {
    const fit = fitSettling(noisy);
    expect(fit === null || fit.chance > 0.001).toBe(true);
    expect(fitSettling({ t: [0, 1], p: [1, 1] })).toBeNull();
  });

  it('names the further wait', () => {
    near(settlingWait(1.2, 35, 3, 360), 154.3569);
    expect(settlingWait(0.01, 35, 3, 360)).toBe(0);
  });

  /** The curve of the sheet, sampled once a second. */
  const share = (sigma: number, until: number, transient: number): number => {
    const normal = normalFrom(mulberry32(11));
    let yes = 0;
    for (let run = 0; run < 120; run++) {
      const at = (from: number): Points => {
        const times = Array.from({ length: 60 }, (_, i) => from + i);
        return { t: times, p: times.map((x) => 16.5 * Math.exp(-0.0003589215 * x) + transient * Math.exp(-x / 35) + sigma * normal()) };
      };
      if (settled(at(until - 120), at(until - 60), 16.5, 3, 360)) yes++;
    }
    return yes / 120;
  };
  it.each([
    [0.01, 180, 1.2, 0, 0.02],
    [0.01, 300, 1.2, 0.97, 1],
    [0.02, 240, 1.2, 0.55, 0.85],
    [0.05, 210, 1.2, 0, 0.08],
    [0.02, 180, 0, 0.95, 1],
  ])('by equivalence at σ %f after %d s: noise makes it not settled', (sigma, until, transient, low, high) => {
    const found = share(sigma, until, transient);
    expect(found).toBeGreaterThanOrEqual(low);
    expect(found).toBeLessThanOrEqual(high);
  });
  it('cannot be settled below zero or by two points', () => {
    expect(settled({ t: [0, 1], p: [1, 1] }, { t: [2, 3, 4], p: [1, 1, 1] }, 2, 1, 60)).toBe(false);
    expect(settled({ t: [0, 1, 2], p: [1, -1, 1] }, { t: [2, 3, 4], p: [1, 1, 1] }, 2, 1, 60)).toBe(false);
  });
});

describe('distributions', () => {
  it.each([
    [0.975, 14, 2.144787],
    [0.975, 11, 2.200985],
    [0.975, 6, 2.446912],
    [0.95, 6, 1.94318],
    [0.5, 3, 0],
  ])('t(%f; %d)', (p, degrees, want) => expect(Math.abs(studentQuantile(p, degrees) - want)).toBeLessThan(1e-5));
  it('F(2, 16) is 10.97099 at 0.1 %', () => near(fTail(10.97099, 2, 16), 0.001, 1e-5));
  it('is symmetric, and refuses what has no quantile', () => {
    expect(studentCdf(1.5, 4) + studentCdf(-1.5, 4)).toBeCloseTo(1, 12);
    expect(() => studentQuantile(1, 4)).toThrow(RangeError);
    expect(() => studentQuantile(0.5, 0)).toThrow(RangeError);
  });
  it('gives up on a model that nothing can be fitted to', () => {
    const nothing = { value: () => 0, slopes: () => [0, 0] };
    expect(leastSquares([1, 2, 3], [1, 2, 3], nothing, [1, 1])).toBeNull();
  });
});

describe('lifts of a valve in a trace (Hinkley 1969; Hampel; from memory)', () => {
  it('finds the reference trace’s opening and shutting, where its lowest sample is a spike', () => {
    const { trace } = reliefTrace({ seed: 42 });
    expect(trace.length).toBe(2503);
    expect(Math.abs(trace.reduce((a, b) => a + b, 0) - 23_661.74)).toBeLessThan(1e-6);
    expect(Math.min(...trace)).toBeCloseTo(8.603, 9);
    const { noise, lifts, proportional } = findLifts(trace, 200);
    near(noise, 0.00629, 1e-4);
    expect(proportional).toBe(false);
    expect(lifts).toHaveLength(1);
    expect(Math.abs((lifts[0]?.crack ?? 0) - 10)).toBeLessThan(0.0015);
    expect(Math.abs((lifts[0]?.reseat ?? 0) - 9.2)).toBeLessThan(0.001);
    expect(Math.abs((lifts[0]?.crackAt ?? 0) / 200 - 10)).toBeLessThan(0.01);
    expect(Math.abs((lifts[0]?.reseatAt ?? 0) / 200 - 10.51)).toBeLessThan(0.01);
  });

  it('is within its tolerance on two hundred traces, and misses none', () => {
    const random = mulberry32(99);
    const [cracks, reseats]: [number[], number[]] = [[], []];
    for (let k = 0; k < 200; k++) {
      const set = 2 + 18 * random();
      const reseat = set * (1 - 0.03 - 0.12 * random());
      const ramp = set * (0.005 + 0.025 * random());
      const tau = 0.2 + 1.3 * random();
      const noise = set * (0.0002 + 0.0008 * random());
      const floor = reseat - (set - reseat) * (0.3 + 0.7 * random());
      const { trace } = reliefTrace({
        seed: 1000 + k,
        pset: set,
        reseat,
        R: ramp,
        tau,
        pinf: floor,
        R2: random() < 0.5 ? ramp / 2 : 0,
        sigma: noise,
        hum: noise,
        q: set * 1e-4,
        spikeA: set * 0.05,
      });
      const { lifts } = findLifts(trace, 200);
      const last = lifts.at(-1)?.reseat;
      expect(lifts.length, `trace ${k}`).toBeGreaterThan(0);
      cracks.push(Math.abs((lifts[0]?.crack ?? 0) - set) / set);
      reseats.push(Math.abs((last ?? 0) - reseat) / set);
    }
    const share = (list: number[], at: number): number => [...list].sort((a, b) => a - b)[Math.floor(at * (list.length - 1))] ?? 1;
    expect(share(cracks, 0.99)).toBeLessThan(0.0015);
    expect(share(cracks, 1)).toBeLessThan(0.003);
    expect(share(reseats, 0.99)).toBeLessThan(0.0005);
    expect(share(reseats, 1)).toBeLessThan(0.001);
  });

  it('finds nothing in a plain rise with spikes', () => {
    for (let seed = 1; seed <= 30; seed++) expect(findLifts(pureRamp(seed), 200).lifts).toEqual([]);
  });

  it('finds where a proportional valve bends the rise', () => {
    const normal = normalFrom(mulberry32(5));
    const trace = Float64Array.from({ length: 4000 }, (_, i) => (i < 2400 ? 9 + i * 0.0005 : 10.2 + (i - 2400) * 0.00015) + 0.004 * normal());
    const found = findLifts(trace, 200);
    expect(found.proportional).toBe(true);
    expect(Math.abs((found.lifts[0]?.crack ?? 0) - 10.2)).toBeLessThan(0.0006 * 10.2);
    expect(found.lifts[0]?.reseat).toBeNull();
  });

  it('has nothing to say of a handful of samples', () => expect(findLifts(Float64Array.from([1, 2, 3]), 200).lifts).toEqual([]));
});
