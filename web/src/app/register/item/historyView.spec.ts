import type { SeriesView } from '@grellin/contract';
import { outlook } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { everyInWords } from '../owe/everyInWords';
import { historyView, WIDTH } from './historyView';
import { guessColumn } from '../entry/importScreen';
import { keptUnits } from '../../preference/unitChoice';

const tests = ['2024-01-10', '2024-07-10', '2025-01-10', '2025-07-10', '2026-01-10'].map((on, i) => ({ on, percent: 40 + i * 12 + (i % 2) }));
const series = (percent = tests): SeriesView => ({
  procedure: 'suit.inflation',
  title: 'Suit',
  points: percent.map((p, i) => ({ record: `GR-${String(i)}`, verdict: p.percent > 100 ? 'fail' : 'pass', ...p })),
  strips: percent.map((p, i) => ({ record: `GR-${String(i)}`, on: p.on, points: [[0, 0], [2, p.percent / 2], [4, p.percent]] as const })),
  outlook: outlook(percent, '2026-02-01', '2027-01-10'),
}); // prettier-ignore

describe('an item’s past, drawn', () => {
  it('lays every strip over the others, the newest strong, and marks what failed', () => {
    const v = historyView(series([...tests, { on: '2026-07-10', percent: 108 }]), '2026-08-01');
    expect(v.strips.map((s) => s.newest)).toEqual([false, false, false, false, false, true]);
    expect(v.points.map((p) => p.failed)).toEqual([false, false, false, false, false, true]);
    expect(v.points.every((p, i) => i === 0 || p.x > (v.points[i - 1]?.x ?? 0))).toBe(true);
  });

  it('says when it crosses if nothing is done, with its interval, and draws the line there', () => {
    const v = historyView(series(), '2026-02-01');
    expect(v.words).toMatch(
      /^Last used 88 %\. \+2\d.* % of the allowance a year, over 5 tests\. If nothing is done it crosses its limit on 2026-\d\d-\d\d, between/,
    );
    expect(v.line).not.toBeNull();
    expect(v.crossing && v.crossing.low <= v.crossing.x && v.crossing.x <= v.crossing.high && v.crossing.high <= WIDTH).toBe(true);
  });

  it('names no date where there are too few tests', () => {
    const v = historyView(series(tests.slice(0, 2)), '2024-08-01');
    expect([v.line, v.crossing]).toEqual([null, null]);
    expect(v.words).toContain('Three tests on different days');
  });
});

describe('small words and guesses of the register', () => {
  it.each([
    ['P1Y', 'every year'],
    ['P6M', 'every 6 months'],
    ['P30M', 'every 30 months'],
    ['P1W', 'every week'],
    ['P1Y6M', 'every 1 year and 6 months'],
    ['odd', 'every odd'],
  ])('%s is %s', (interval, words) => expect(everyInWords(interval)).toBe(words));

  it('finds the column that a field most likely stands in', () => {
    const columns = ['TAG', 'Serial no', 'made-on', 'Inside volume'];
    expect(guessColumn({ id: 'tag', title: 'Tag' }, columns)).toBe('TAG');
    expect(guessColumn({ id: 'made_on', title: 'Made on' }, columns)).toBe('made-on');
    expect(guessColumn({ id: 'attribute:volume', title: 'Inside volume' }, columns)).toBe('Inside volume');
    expect(guessColumn({ id: 'serial', title: 'Serial' }, columns)).toBe('');
  });

  it('takes from the machine’s memory only units that there are', () => {
    expect(keptUnits('{"low pressure":"mbar","flow":"furlong","colour":"red"}')).toEqual({ 'low pressure': 'mbar' });
    expect(keptUnits('not json')).toEqual({});
    expect(keptUnits('7')).toEqual({});
    expect(keptUnits(null)).toEqual({});
  });
});
