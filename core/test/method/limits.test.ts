import { describe, expect, it } from 'vitest';
import { procedureById, type Limit, type Procedure } from '../../src/procedure';
import { codes, found, only, planOf, type Written } from '../testing/attempt';

const source = { title: 'invented for this test' };
const psi = (value: number) => ({ value, unit: '[psi]' });

/** Two gauges that are read when a warning comes on, with limits of one's choosing. */
function warning(...limits: readonly (Pick<Limit, 'op'> & { readonly channel?: string; readonly at: number })[]): Procedure {
  return {
    ...(procedureById('brakes.whole') as Procedure),
    id: 'test.warning',
    channels: { a: { role: 'vehicle', unit: '[psi]', title: 'First' }, b: { role: 'vehicle', unit: '[psi]', title: 'Second' } },
    stages: [
      { id: 'warning', role: 'vehicle', title: 'Warning', attempts: 1, onFail: 'continue', phase: 'test', steps: [], method: { kind: 'eventPressure', channels: ['a', 'b'], mark: 'warns', text: 'The warning comes on' } }, // prettier-ignore
    ],
    ruleSets: [
      {
        id: 'own',
        title: 'Own',
        edition: '1',
        note: 'invented',
        order: 'free',
        skip: [],
        decision: { kind: 'simple' },
        parameters: {},
        limits: limits.map(({ at, ...l }, i): Limit => ({ id: `l${String(i)}`, stage: 'warning', of: 'pressure', value: psi(at), source, ...l })),
      },
    ],
  };
}
const find = (p: Procedure, w: Written) => found(planOf(p, 'own', { vehicle: {} }), 'warning', w);
const reads = (a: number, b: number): Written => ({ typed: true, marks: { warns: 10 }, readings: { a: [[10, a]], b: [[10, b]] } });

describe('two limits that make a band', () => {
  it('are on one channel: the allowance is the way from its middle', () => {
    const band = warning({ channel: 'a', op: '>=', at: 55 }, { channel: 'a', op: '<=', at: 75 });
    expect(find(band, reads(62, 60)).find((f) => f.limit?.id === 'l0')?.allowancePercent).toBe(30);
  });
  it('are none on two: each channel is judged against its own', () => {
    const apart = warning({ channel: 'a', op: '>=', at: 55 }, { channel: 'b', op: '<=', at: 75 });
    // 60 of 75 is 80 %; as a band both would be something else. A least pressure alone uses up no allowance; the first rules said 89 % of 55 in 62.
    expect(only(find(apart, reads(62, 60)), 'l0').allowancePercent).toBeNull();
    expect(only(find({ ...apart, language: undefined }, reads(62, 60)), 'l0').allowancePercent).toBe(89);
    expect(only(find(apart, reads(62, 60)), 'l1').allowancePercent).toBe(80);
  });
});

describe('an event that never came', () => {
  const low = warning({ op: '>=', at: 55 });
  const never = (...b: readonly (readonly [number, number])[]) => find(low, { typed: true, readings: { a: b, b }, marks: {}, ended: 60 });
  it('is overdue once the pressure has fallen past the limit that it should have come before', () => {
    expect(never([1, 100], [20, 54]).map((f) => [f.channel, f.verdict, codes(f)])).toEqual([
      ['a', 'fail', ['eventOverdue']],
      ['b', 'fail', ['eventOverdue']],
    ]);
  });
  it('is not overdue while it still stands above it, nor where it began below: nothing is known of the warning then', () => {
    for (const readings of [
      [
        [1, 100],
        [20, 55],
      ],
      [
        [1, 50],
        [20, 54],
      ],
      [
        [1, 50],
        [20, 100],
      ],
    ] as const)
      // prettier-ignore
      expect(never(...readings).map((f) => [f.verdict, codes(f)]), JSON.stringify(readings)).toEqual([['void', ['eventMissing']]]);
  });
});
