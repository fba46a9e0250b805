import { describe, expect, it } from 'vitest';
import { BURST_MS, Wedge, type Heard } from './wedge';

const typed = (text: string, apartMs: number, w = new Wedge(), from = 1000): readonly Heard[] =>
  text.split(/(?=[^])/u).map((key, i) => w.heard(key === '\n' ? 'Enter' : key, from + i * apartMs));

describe('keys that come', () => {
  it('as fast as a scanner types them are a code, ended by its Enter', () => {
    expect(typed('SZN-7\n', 12)).toEqual(['alone', 'burst', 'burst', 'burst', 'burst', { scanned: 'SZN-7' }]);
  });

  it('as fast as a hand can are a hand’s', () => {
    expect(typed('ZNZN\n', BURST_MS)).toEqual(['alone', 'alone', 'alone', 'alone', 'alone']);
  });

  it('with Shift between them, for the capitals, are a code all the same', () => {
    const w = new Wedge();
    const heard = ['Shift', 'S', 'Shift', 'V', 'Shift', 'Z', '1', 'Enter'].map((key, i) => w.heard(key, 1000 + 8 * i));
    expect(heard.at(-1)).toEqual({ scanned: 'SVZ1' });
    expect(heard.filter((h) => h === 'alone')).toHaveLength(1);
  });

  it('two at a time are no code: nothing is opened by a hand that slips', () => {
    expect(typed('ab\n', 10).at(-1)).toBe('burst');
  });

  it('after a code begin anew', () => {
    const w = new Wedge();
    typed('1234\n', 10, w);
    expect(typed('5678\n', 10, w, 3000).at(-1)).toEqual({ scanned: '5678' });
  });
});
