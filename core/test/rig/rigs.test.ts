import { describe, expect, it } from 'vitest';
import { freeAir, pressurePerKelvin, settlingDrop, waterCompression } from '../../src/physics';
import {
  breathingSetRig,
  cargoTankRig,
  circuitRig,
  facePieceRig,
  gradeOfFlow,
  ibcRig,
  jacketRig,
  reliefRig,
  storeRig,
  vesselRig,
  ventRig,
  type Rig,
} from '../../src/rig';

/** Every rig against the physics that it stands for, before it makes a sample. */

function run<S>(rig: Rig<S>, state: S, seconds: number, dt = 0.05): S {
  let s = state;
  for (let i = 0; i < Math.round(seconds / dt); i++) s = rig.step(s, dt);
  return s;
}
const near = (got: number, want: number, relative: number): void => expect(Math.abs(got / want - 1), `${got} is not ${want}`).toBeLessThan(relative);

const spec = {
  id: 'x',
  title: 'x',
  volume: 0.2,
  soakS: 10,
  testPa: 1650,
  fillS: 20,
  faults: { none: {}, leaky: { leak: 4.366266e-4 }, warm: { drift: 0.001 } },
} as const;

describe('a vessel', () => {
  const rig = vesselRig(spec);
  const filled = (fault: string) => run(rig, rig.act(run(rig, rig.act(rig.make(fault), { act: 'fill', to: 1650 }), 400), { act: 'shut' }), 60);
  const p = (s: ReturnType<typeof rig.make>): number => rig.values(s)['p1'] ?? 0;
  it('sealed, moves by p/T a kelvin', () => {
    const before = filled('warm');
    const after = run(rig, before, 1000);
    const kelvin = (rig.values(after)['t1'] ?? 0) - (rig.values(before)['t1'] ?? 0);
    near((p(after) - p(before)) / kelvin, pressurePerKelvin(1650), 0.01);
  });
  it('filled fast, sinks no further than (1 − 1/γ) of its rise', () => {
    const quick = vesselRig({ ...spec, soakS: 200, fillS: 0.5 });
    let s = quick.act(quick.make('none'), { act: 'fill', to: 1650 });
    while ((quick.values(s)['p1'] ?? 0) < 1600) s = quick.step(s, 0.01);
    s = quick.act(s, { act: 'shut' });
    const top = quick.values(s)['p1'] ?? 0;
    const settled = quick.values(run(quick, s, 3000))['p1'] ?? 0;
    near(top - settled, settlingDrop(0, top), 0.05);
  });
  it('leaking, decays by its rate constant', () => {
    const s = filled('leaky');
    near(p(run(rig, s, 360)) / p(s), Math.exp(-4.366266e-4 * 360), 0.003);
  });
  it('with walls that give, loses as much more slowly as the sheet says', () => {
    const soft = vesselRig({ ...spec, compliance: 5e-6 });
    const hard = rig;
    const leak = (r: typeof rig) => {
      const s = run(r, r.act(run(r, r.act(r.make('leaky'), { act: 'fill', to: 1650 }), 400), { act: 'shut' }), 60);
      return [r.values(s)['p1'] ?? 0, r.values(run(r, s, 360))['p1'] ?? 0] as const;
    };
    // The same rate constant is asked of both: the softer one then leaks 3.57 times the flow.
    const [a, b] = [leak(hard), leak(soft)];
    near(b[1] / b[0], a[1] / a[0], 0.01);
  });
  it('under suction, and refuses what it cannot do or be', () => {
    const s = run(facePieceRig, facePieceRig.act(facePieceRig.make('none'), { act: 'fill', to: -1000 }), 30);
    near(facePieceRig.values(s)['p1'] ?? 0, -1000, 0.02);
    for (const r of [facePieceRig, ibcRig, storeRig, cargoTankRig]) {
      expect(() => r.make('moths')).toThrow(RangeError);
      expect(() => r.act(r.make('none'), { act: 'kick' })).toThrow(RangeError);
    }
  });
  it.each([
    [1e-9, 'none'],
    [2e-8, 'fewAtFirst'],
    [1e-7, 'stream'],
    [1e-6, 'grows'],
  ])('%f m³/s through a place bubbles: %s', (flow, grade) => expect(gradeOfFlow(flow)).toBe(grade));
});

describe('the others', () => {
  it('a breathing set holds what the real-gas table says, and its line cools after it is opened', () => {
    const s = breathingSetRig.make('none', 288.15);
    near(breathingSetRig.values(s)['p1'] ?? 0, 300e5, 1e-4);
    // n·R·T_ref ÷ p_ref against the free air of the sheet.
    near((s.cylinderMol * 8.314462618 * 288.15) / 101_325, freeAir(6.8e-3, 300e5), 1e-3);
    const open = run(breathingSetRig, breathingSetRig.act(s, { act: 'open' }), 6);
    const shut = breathingSetRig.act(open, { act: 'shut' });
    const [hot, cold] = [breathingSetRig.values(shut)['p2'] ?? 0, breathingSetRig.values(run(breathingSetRig, shut, 40))['p2'] ?? 0];
    expect(hot - cold).toBeGreaterThan(5e5);
    expect(() => breathingSetRig.act(s, { act: 'kick' })).toThrow(RangeError);
    expect(() => breathingSetRig.make('moths')).toThrow(RangeError);
  });
  it('a circuit’s make-up flow comes to its leak', () => {
    const filled = run(circuitRig, circuitRig.act(circuitRig.make('absorber seal'), { act: 'fill', to: 30 * 98.0665 }), 20);
    const still = run(circuitRig, circuitRig.act(filled, { act: 'still', to: 30 * 98.0665 }), 120);
    near((circuitRig.values(still)['f1'] ?? 0) * 6e7, 420, 0.01);
    near(circuitRig.values(still)['p1'] ?? 0, 30 * 98.0665, 0.01);
    const bag = run(circuitRig, circuitRig.act(circuitRig.make('none'), { act: 'fill', to: 60 * 98.0665 }), 60);
    expect(circuitRig.values(bag)['p1'] ?? 0).toBeLessThan(61 * 98.0665);
    expect(() => circuitRig.act(bag, { act: 'kick' })).toThrow(RangeError);
    expect(() => circuitRig.make('moths')).toThrow(RangeError);
  });
  it('a cylinder on the pump takes what its wall and the water give', () => {
    const zeroed = jacketRig.act(jacketRig.act(jacketRig.make('none'), { act: 'cylinder on' }), { act: 'zero' });
    const up = run(jacketRig, jacketRig.act(zeroed, { act: 'raise', to: 300e5 }), 80);
    const forced = (jacketRig.values(up)['w1'] ?? 0) * 1e6;
    const wall = (0.17 * 300) / 0.98;
    near(forced - wall, waterCompression(12.22, 300, 18), 0.03);
    const after = run(jacketRig, jacketRig.act(up, { act: 'let down' }), 60);
    near((jacketRig.values(after)['w1'] ?? 0) * 1e6, wall * 0.02, 0.01);
    expect(() => jacketRig.act(up, { act: 'kick' })).toThrow(RangeError);
    expect(() => jacketRig.make('moths')).toThrow(RangeError);
  });
  it('a relief valve opens where it is set and shuts below', () => {
    let s = reliefRig.act(reliefRig.make('none'), { act: 'lift' });
    let [top, opened, shut] = [0, false, 0];
    for (let i = 0; i < 8000 && shut === 0; i++) {
      s = reliefRig.step(s, 0.005);
      top = Math.max(top, s.pressure);
      opened ||= s.open;
      if (opened && !s.open) shut = s.pressure;
    }
    near(top / 6894.757293168361, 100.8, 1e-3);
    near(shut / 6894.757293168361, 93, 1e-3);
    expect(() => reliefRig.act(s, { act: 'kick' })).toThrow(RangeError);
    expect(() => reliefRig.make('moths')).toThrow(RangeError);
  });
  it('a vent valve held still takes the flow that it leaks', () => {
    const s = run(ventRig, ventRig.act(ventRig.make('none'), { act: 'still', to: 2 * 249.08891 }), 30);
    near((ventRig.values(s)['f1'] ?? 0) * 6e7, 0.015 * 471.9474432, 0.01);
    expect(() => ventRig.act(s, { act: 'kick' })).toThrow(RangeError);
    expect(() => ventRig.make('moths')).toThrow(RangeError);
  });
});
