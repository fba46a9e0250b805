import { describe, expect, it } from 'vitest';
import { readingTables, type RunEvent } from '../../src';
import { practiceRun, rigFor } from '../../src/practice';
import { foldAll } from '../../src/run';

/** A rule that wants a reading each minute has its table on the record, and a minute at which nothing was read is said to be missed. Common practice. */
const rig = rigFor('tank.vapour-10') ?? '';
const streamed = practiceRun('tank.vapour-10', 'in-use', rig, 'none');
const typed = practiceRun('tank.vapour-10', 'in-use', rig, 'none', { readings: 'typed' });
const start = typed.events.findLastIndex((e) => e.kind === 'marked' && e.mark === 'start');
const held = typed.events[start]?.at ?? 0;
/** The hold of the typed run, read at these seconds of it besides its start and its end. */
const readAt = (seconds: readonly number[]): readonly RunEvent[] => [
  ...typed.events.slice(0, start + 1),
  ...seconds.map((s, k): RunEvent => ({ kind: 'reading', id: `m${String(k)}`, source: 'hand', n: 1000 + k, at: held + s * 1000, channel: 'tank', quantity: { value: 10.01, unit: "[in_i'H2O]" } })), // prettier-ignore
  ...typed.events.slice(start + 1),
];
const missed = (events: readonly RunEvent[]) => (readingTables(typed.plan, foldAll(events))[0]?.things ?? []).flatMap((r) => (r.words.startsWith('missed') ? [r.name] : [])); // prettier-ignore
const minutes = (...from: readonly number[]) => from.map((m) => 60 * m);

describe('what is read each minute', () => {
  it('stands in a table from the start to the end of the hold', () => {
    const [table, ...others] = readingTables(streamed.plan, streamed.state);
    expect(others).toEqual([]);
    expect(table?.title).toBe('Hold at ten inches: Tank 1: read the manometer and write it down');
    expect(table?.things.map((r) => r.name)).toEqual(['0 min', '1 min', '2 min', '3 min', '4 min', '5 min', '6 min', '7 min', '8 min', '9 min', '10 min']);
    for (const r of table?.things ?? []) expect(r.words).toMatch(/^(9\.9\d?|10(\.0\d?)?) inH2O$/);
  });
  it('says which minute was missed, and takes no reading of another for it', () => {
    expect(missed(readAt(minutes(1, 2, 3, 4, 5, 6, 7, 8, 9)))).toEqual([]);
    expect(missed(readAt(minutes(1, 2, 4, 5, 6, 7, 8, 9)))).toEqual(['3 min']);
    // A reading fifteen seconds off is of its minute, one of sixteen is not.
    expect(missed(readAt([60, 120, 195, 240, 300, 360, 420, 480, 540]))).toEqual([]);
    expect(missed(readAt([60, 120, 196, 240, 300, 360, 420, 480, 540]))).toEqual(['3 min']);
    expect(missed(typed.events)).toHaveLength(9);
  });
  it('is of the hold alone: nothing that was never held has one, nor a rule that asks for no reading', () => {
    expect(readingTables(typed.plan, foldAll(typed.events.slice(0, start)))).toEqual([]);
    const looked = practiceRun('cyl.water-jacket', 'us-metal', rigFor('cyl.water-jacket') ?? '', 'none');
    expect(readingTables(looked.plan, looked.state)).toEqual([]);
  });
});
