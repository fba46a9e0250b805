import { describe, expect, it } from 'vitest';
import { guess, parseCsv, readingsFromCsv, signatureOf, type ColumnMatch, type Timed } from './csvReadings';

const started = Date.parse('2026-11-25T08:00:00Z');
const moments: ColumnMatch = { time: 'time', clock: 'moment', channels: { suit: { column: 'p', unit: 'mbar' } } };
const file = (rows: readonly string[], header = 'time,p') => {
  const parsed = parseCsv([header, ...rows].join('\r\n'));
  if (!parsed) throw new Error('no file');
  return parsed;
};
const at = (s: number): string => new Date(started + s * 1000).toISOString();
const samplesOf = (events: readonly Timed[]) => events.flatMap((e) => (e.kind === 'samples' ? [e] : []));

describe('a logger’s file', () => {
  it('is read by RFC 4180: quotes, commas, a byte-order mark, empty lines', () => {
    const parsed = parseCsv('\uFEFF"time","p, mbar"\r\n"2026-11-25T08:00:01Z","16,5"\r\n\r\n');
    expect(parsed).toEqual({ header: ['time', 'p, mbar'], rows: [{ time: '2026-11-25T08:00:01Z', 'p, mbar': '16,5' }] });
    expect(parseCsv('just words')).toBeNull();
    expect(parseCsv('')).toBeNull();
  });
  it('gives even rows as samples of one stretch, and a hole begins another', () => {
    const rows = [10, 11, 12, 20, 21].map((s, i) => `${at(s)},${String(16 - i / 10)}`);
    const { events, taken, left } = readingsFromCsv(file(rows), moments, started, 60_000, {});
    expect(samplesOf(events).map((e) => [e.at, e.everyMs, e.values.length])).toEqual([
      [10_000, 1000, 3],
      [20_000, 1000, 2],
    ]);
    expect([taken, left]).toEqual([5, []]);
    expect(samplesOf(events)[0]).toMatchObject({ channel: 'suit', unit: 'mbar', values: [16, 15.9, 15.8] });
  });
  it('takes only what is not there already, and nothing from before the run or after now', () => {
    const rows = [-5, 10, 20, 30, 90].map((s) => `${at(s)},16`);
    const { events, taken, left } = readingsFromCsv(file(rows), moments, started, 60_000, { suit: 10_000 });
    expect(taken).toBe(2);
    expect(samplesOf(events)[0]?.at).toBe(20_000);
    expect(left).toEqual(['row 2: outside the run', 'row 6: outside the run']);
  });
  it('counts seconds back from the last row', () => {
    const seconds: ColumnMatch = { time: 's', clock: 'seconds', channels: { suit: { column: 'p', unit: 'mbar' } } };
    const { events } = readingsFromCsv(file(['0,16.5', '0.5,16.4', '1,16.3'], 's,p'), seconds, started, 60_000, {});
    expect(samplesOf(events)[0]).toMatchObject({ at: 59_000, everyMs: 500, values: [16.5, 16.4, 16.3] });
  });
  it('names every row that it cannot read', () => {
    const { left, taken } = readingsFromCsv(file([`${at(1)},16`, 'soon,16', `${at(3)},damp`]), moments, started, 60_000, {});
    expect(taken).toBe(1);
    expect(left).toEqual(['row 3: the time cannot be read', 'row 4: p is no number']);
  });
  it('guesses what its columns are, and is known again by its header', () => {
    const f = file([`${at(1)},16,15`], 'Date and time,P1 mbar,P2 mbar');
    const channels = [
      { channel: 'primary', unit: 'mbar' },
      { channel: 'secondary', unit: 'mbar' },
    ];
    expect(guess(f, channels)).toEqual({
      time: 'Date and time',
      clock: 'moment',
      channels: { primary: { column: 'P1 mbar', unit: 'mbar' }, secondary: { column: 'P2 mbar', unit: 'mbar' } },
    });
    expect(signatureOf(f)).toBe(signatureOf(file([`${at(2)},1,1`], 'Date and time,P1 mbar,P2 mbar')));
  });
});
