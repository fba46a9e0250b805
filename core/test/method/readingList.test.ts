import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ReadingList, type Chunk, type Reading } from '../../src/method';

/** The plain way: every reading made, and all of them sorted. */
const plain = (chunks: readonly Chunk[]): Reading[] =>
  chunks
    .flatMap((c) => c.values.map((value, i): Reading => ({ at: c.at + i * c.everyMs, value, unit: c.unit, typed: c.typed, event: c.event })))
    .sort((a, b) => a.at - b.at || Number(a.typed) - Number(b.typed));

const chunk = fc
  .record({ at: fc.integer({ min: 0, max: 400 }), everyMs: fc.integer({ min: 1, max: 20 }), values: fc.array(fc.double({ noNaN: true }), { maxLength: 6 }), typed: fc.boolean() })
  .map(({ values, typed, ...rest }): Omit<Chunk, 'event'> => ({ ...rest, unit: 'mbar', typed, values: typed ? values.slice(0, 1) : values })); // prettier-ignore
const arrivals = fc.array(fc.array(chunk, { maxLength: 4 }), { maxLength: 12 }).map((batches) => batches.map((b, i) => b.map((c, k): Chunk => ({ ...c, event: `${i}.${k}` })))); // prettier-ignore

describe('the readings of a channel', () => {
  it('are in order of time however they came, and the same as sorting them all', () =>
    fc.assert(
      fc.property(arrivals, (batches) => {
        const list = batches.reduce((l, b) => l.with(b), ReadingList.none);
        const all = plain(batches.flat());
        expect([...list]).toEqual(all);
        expect(list.map((r) => r)).toEqual(all);
        expect(list.length).toBe(all.length);
      }),
    ));

  it('are found by time as a search through all of them finds them', () =>
    fc.assert(
      fc.property(arrivals, fc.integer({ min: -5, max: 600 }), fc.integer({ min: 0, max: 300 }), (batches, from, span) => {
        const list = batches.reduce((l, b) => l.with(b), ReadingList.none);
        const all = plain(batches.flat());
        const part = list.between(from, from + span);
        expect([...part]).toEqual(all.filter((r) => r.at >= from && r.at <= from + span));
        expect(list.firstFrom(from)).toEqual(all.find((r) => r.at >= from));
        expect(list.lastUpTo(from)).toEqual(all.findLast((r) => r.at <= from));
        expect([part.at(0), part.at(-1)]).toEqual([[...part].at(0), [...part].at(-1)]);
        expect(list.filter((r) => r.typed)).toEqual(all.filter((r) => r.typed));
        expect(list.find((r) => r.typed)).toEqual(all.find((r) => r.typed));
        const peaks: number[] = [];
        part.eachPeak((low, high) => peaks.push(low.value, high.value));
        const values = [...part].map((r) => r.value);
        expect([Math.min(...peaks), Math.max(...peaks)]).toEqual([Math.min(...values), Math.max(...values)]);
        const seen: number[] = [];
        part.each((at) => seen.push(at));
        expect(seen).toEqual([...part].map((r) => r.at));
      }),
    ));

  it('never change: two that grow from one list do not see each other’s', () =>
    fc.assert(
      fc.property(arrivals, arrivals, arrivals, (before, one, other) => {
        const root = before.reduce((l, b) => l.with(b), ReadingList.none);
        const [a, b] = [one, other].map((more) => more.reduce((l, batch) => l.with(batch), root));
        expect([...(a ?? root)]).toEqual(plain([...before, ...one].flat()));
        expect([...(b ?? root)]).toEqual(plain([...before, ...other].flat()));
        expect([...root]).toEqual(plain(before.flat()));
      }),
    ));

  it('of nothing are none, and stay none', () => {
    ReadingList.none.with([{ at: 1, everyMs: 0, unit: 'bar', values: [2], typed: true, event: 'e' }]);
    expect([ReadingList.none.length, ReadingList.none.at(0), ReadingList.none.at(-1), ReadingList.none.firstFrom(0), ReadingList.none.lastUpTo(9)]).toEqual([
      0,
      undefined,
      undefined,
      undefined,
      undefined,
    ]);
  });
});
