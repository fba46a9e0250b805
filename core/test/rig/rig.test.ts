import { describe, expect, it } from 'vitest';
import { driftEqualToLoss } from '../../src/physics';
import { airBrakeRig, gaussian, rigs, sense, suitRig, uniform, type Random } from '../../src/rig';
import { admit, R, release, soak } from '../../src/rig/gas';

const run = <S>(rig: { step: (s: S, dt: number) => S }, state: S, seconds: number): S => {
  let s = state;
  for (let i = 0; i < seconds * 20; i++) s = rig.step(s, 0.05);
  return s;
};

describe('the gas in the rigs', () => {
  it('a fast fill heats it, and the cooling takes 28.57 % of the rise (adiabatic charging, Moran & Shapiro; from memory)', () => {
    const p0 = 101_325;
    const v = 1;
    const T0 = 293.15;
    let gas = { mol: (p0 * v) / (R * T0), temperature: T0 };
    const target = p0 + 1750;
    const pressure = (g: typeof gas): number => (g.mol * R * g.temperature) / v;
    while (pressure(gas) < target) gas = admit(gas, 1e-6 * gas.mol, T0);
    const risen = pressure(gas) - p0;
    const cooled = pressure(soak(gas, T0, 1, 1e6)) - p0;
    expect((risen - cooled) / risen).toBeCloseTo(1 - 1 / 1.4, 3);
  });

  it('what stays behind a quick withdrawal cools isentropically', () => {
    let gas = { mol: 100, temperature: 293.15 };
    for (let i = 0; i < 10_000; i++) gas = release(gas, (gas.mol * 0.05) / 10_000 / (1 - (0.05 * i) / 10_000));
    expect(gas.temperature).toBeCloseTo(293.15 * (gas.mol / 100) ** 0.4, 2);
  });
});

describe('the suit rig', () => {
  const filled = (fault: string) =>
    run(suitRig, suitRig.act(run(suitRig, suitRig.act(suitRig.make(fault), { act: 'fill', to: 1700 }), 120), { act: 'shut' }), 120);
  const lossIn = (fault: string, seconds: number): number => {
    const start = filled(fault);
    return (suitRig.values(start)['p1'] ?? 0) - (suitRig.values(run(suitRig, start, seconds))['p1'] ?? 0);
  };

  it('a sound suit keeps nearly all, a faulty one loses more than the rules permit', () => {
    expect(lossIn('none', 360)).toBeLessThan(150);
    expect(lossIn('zip end', 360)).toBeGreaterThan(400);
    expect(lossIn('valve seat', 360)).toBeGreaterThan(lossIn('zip end', 360));
  });

  it('sun on it raises the pressure, though less than a rigid vessel’s: it gives', () => {
    const risen = -lossIn('sun on the suit', 240);
    const kelvin = 0.004 * 240;
    expect(risen).toBeGreaterThan(50);
    expect(risen).toBeLessThan(kelvin * (1 / driftEqualToLoss(1700, 1)));
  });

  it('lies slack at no pressure until it is full', () =>
    expect(suitRig.values(run(suitRig, suitRig.act(suitRig.make('none'), { act: 'fill', to: 1700 }), 3))['p1']).toBe(0));
});

describe('the air-brake rig', () => {
  const psi = 6894.757293168361;
  const charged = (fault: string) => run(airBrakeRig, airBrakeRig.act(airBrakeRig.make(fault), { act: 'engine on' }), 150);

  it('the governor cuts out near 130 psi and the pressure stays below it', () => {
    const p = airBrakeRig.values(charged('none'));
    expect((p['p1'] ?? 0) / psi).toBeGreaterThan(120);
    expect((p['p1'] ?? 0) / psi).toBeLessThan(132);
  });

  it('pressing the pedal takes a first drop, and the gas then warms again', () => {
    const still = run(airBrakeRig, airBrakeRig.act(charged('none'), { act: 'engine off' }), 60);
    const before = airBrakeRig.values(still)['p1'] ?? 0;
    const pressed = run(airBrakeRig, airBrakeRig.act(still, { act: 'press' }), 3);
    const drop = (before - (airBrakeRig.values(pressed)['p1'] ?? 0)) / psi;
    expect(drop).toBeGreaterThan(3);
    expect(drop).toBeLessThan(15);
  });
});

describe('what the logger shows', () => {
  it('is in whole decimal steps', () => {
    let random: Random = { state: 3 };
    for (let i = 0; i < 200; i++) {
      const [value, after] = sense({ unit: 'mbar', resolution: 0.01, noise: 0.02, zero: 0 }, 1650 + i, random);
      random = after;
      expect(String(value).split('.')[1]?.length ?? 0).toBeLessThanOrEqual(2);
    }
  });

  it('has noise of the size it says, from a seed that can be used again', () => {
    let random: Random = { state: 1 };
    const values = Array.from({ length: 20_000 }, () => {
      const [z, after] = gaussian(random);
      random = after;
      return z;
    });
    const mean = values.reduce((a, b) => a + b) / values.length;
    const sd = Math.sqrt(values.reduce((a, b) => a + (b - mean) ** 2, 0) / (values.length - 1));
    expect(Math.abs(mean)).toBeLessThan(0.03); // 4 standard errors
    expect(Math.abs(sd - 1)).toBeLessThan(0.02);
    expect(uniform({ state: 42 })).toEqual(uniform({ state: 42 }));
  });

  it('skips no line however the time is cut up, and refuses what a rig cannot do', () => {
    for (const rig of rigs) {
      const logger = rig.logger('none', { p1: { unit: 'Pa', resolution: 1, noise: 0, zero: 0 } }, 1);
      const whole = logger.advance(10_000)[1];
      let cut = logger;
      const parts = [50, 1700, 250, 3000, 5000].flatMap((ms) => {
        const [after, lines] = cut.advance(ms);
        cut = after;
        return lines;
      });
      expect(parts).toEqual(whole);
      expect(whole).toHaveLength(10_000 / rig.everyMs);
      expect(() => logger.act({ act: 'kick' })).toThrow(RangeError);
      expect(() => rig.logger('moths', {}, 1)).toThrow(RangeError);
    }
  });
});
