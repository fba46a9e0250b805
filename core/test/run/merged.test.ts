import { describe, expect, it } from 'vitest';
import { foldAll, merged, readingsOf, type EventOf, type RunEvent } from '../../src';
import { sample, sampleNames } from '../testing/samples';

let n = 0;
const chunk = (at: number, values: readonly number[], more: Partial<EventOf<'samples'>> = {}): RunEvent => ({
  kind: 'samples',
  id: `c${String(n++)}`,
  source: 'logger',
  n: n,
  at,
  channel: 'suit',
  unit: 'mbar',
  everyMs: 100,
  values,
  ...more,
});
const said = (at: number): RunEvent => ({ kind: 'disturbed', id: `d${String(n++)}`, source: 'hand', n: 1, at, note: 'touched' });
const shapes = (events: readonly RunEvent[]): unknown[] =>
  merged(events).map((e) => (e.kind === 'samples' ? [e.source, e.n, e.at, e.values] : [e.source, e.n, e.kind]));

describe('chunks put together', () => {
  it('go on where the one before ended, and their sources count anew', () => {
    expect(shapes([chunk(0, [1, 2]), chunk(200, [3]), chunk(300, [4, 5])])).toEqual([['logger', 1, 0, [1, 2, 3, 4, 5]]]);
  });

  it.each([
    ['leaves a hole', chunk(250, [3])],
    ['comes too soon', chunk(150, [3])],
    ['is of another channel', chunk(200, [3], { channel: 'flow' })],
    ['is in another unit', chunk(200, [3], { unit: 'Pa' })],
    ['comes at another pace', chunk(200, [3], { everyMs: 200 })],
    ['comes from another source', chunk(200, [3], { source: 'other' })],
  ] as const)('stay apart where the next %s', (_, next) => {
    expect(merged([chunk(0, [1, 2]), next])).toHaveLength(2);
  });

  it('stay apart where somebody said something between them, and count on', () => {
    expect(shapes([chunk(0, [1, 2]), said(150), chunk(200, [3]), said(250)])).toEqual([
      ['logger', 1, 0, [1, 2]],
      ['hand', 1, 'disturbed'],
      ['logger', 2, 200, [3]],
      ['hand', 2, 'disturbed'],
    ]);
  });

  it('grow beside one another, a source each', () => {
    expect(shapes([chunk(0, [1]), chunk(0, [9], { source: 'other' }), chunk(100, [2]), chunk(100, [8], { source: 'other' })])).toEqual([
      ['logger', 1, 0, [1, 2]],
      ['other', 1, 0, [9, 8]],
    ]);
  });

  it('hold twenty thousand values and no more', () => {
    const full = chunk(0, new Array<number>(19_999).fill(1));
    expect(merged([full, chunk(1_999_900, [2])])).toHaveLength(1);
    expect(merged([full, chunk(1_999_900, [2, 3])])).toHaveLength(2);
  });

  it.each(sampleNames.filter((_, i) => i % 9 === 0))('fold to the same readings: %s', (name) => {
    const { plan, events, state } = sample(name);
    const again = foldAll(merged(events));
    for (const channel of Object.keys(plan.procedure.channels)) {
      const plain = (s: typeof state): unknown => [...readingsOf(s, channel)].map((r) => [r.at, r.value, r.unit]);
      expect(plain(again)).toEqual(plain(state));
    }
  });
});
