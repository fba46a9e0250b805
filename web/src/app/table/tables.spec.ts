import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { TableRow } from '@grellin/contract';
import { procedureById, type FigureTable, type Procedure } from '@grellin/core';
import { practiceTimes } from '@grellin/core/practice';
import { describe, expect, it, vi } from 'vitest';
import { Screen } from '../../testing/screen';
import { KeptTables } from './keptTables';
import { NewTableScreen } from './newTable';
import { TablesScreen } from './tablesScreen';

const row = (edition: string, more: Partial<TableRow> = {}, table: Partial<FigureTable> = {}): TableRow => ({
  digest: edition.repeat(8),
  table: { ...practiceTimes, edition, ...table },
  publishedAt: '2026-01-01T00:00:00Z',
  by: 'The officer',
  withdrawn: null,
  inForce: false,
  ...more,
});
const withdrawn = { at: '2026-02-01T00:00:00Z', by: 'The officer', why: 'mistyped' };

describe('kept tables', () => {
  it('are shown with their lines, which holds, and why one was withdrawn; a reader changes nothing', async () => {
    const s = new Screen(TablesScreen, 'reader');
    await s.answer('GET', '/api/tables', [row('2', { inForce: true }), row('1', { withdrawn })]);
    expect(s.text).toContain('skarvoy-fuel-office, edition 2 holds since 2020-01-01');
    expect([...(s.page.querySelectorAll('tbody tr')[0]?.querySelectorAll('td') ?? [])].map((c) => c.textContent.trim())).toEqual([
      '3000 US gal',
      '5 min',
      '0.3 inH2O',
    ]);
    expect(s.text).toContain('Withdrawn by The officer: mistyped');
    expect(s.text).not.toContain('New edition');
    expect([...s.page.querySelectorAll('button')].map((b) => b.textContent.trim())).toEqual(['As JSON', 'As JSON']);
  });
  it('are withdrawn with a reason alone', async () => {
    const s = new Screen(TablesScreen);
    await s.answer('GET', '/api/tables', [row('2', { inForce: true })]);
    await s.press('Withdraw');
    expect(s.button('Withdraw it').disabled).toBe(true);
    await s.type('Why it is withdrawn', 'a line is wrong');
    await s.press('Withdraw it');
    const asked = await s.answer('POST', `/api/tables/${'2'.repeat(8)}/withdraw`, { digest: '2' });
    expect(asked.request.body).toEqual({ reason: 'a line is wrong' });
    await s.answer('GET', '/api/tables', []);
    expect(s.text).toContain('No table is kept yet.');
  });
  it('are found for a run as the server finds them: in force today, not withdrawn, of the name that the item says', async () => {
    const s = new Screen(TablesScreen);
    await s.answer('GET', '/api/tables', [
      row('4', {}, { from: '2027-01-01' }),
      row('3', { withdrawn }, { from: '2026-06-01' }),
      row('2', { inForce: true }, { from: '2026-01-01' }),
      row('1'),
    ]);
    const kept = TestBed.inject(KeptTables);
    const ten = procedureById('tank.vapour-10') as Procedure;
    const [rules] = ten.ruleSets;
    const found = (authority: string, day: string) => rules && kept.tablesFor(ten, rules, { tank: { authority } }, day)['times']?.edition;
    expect([found(practiceTimes.id, '2026-12-01'), found(practiceTimes.id, '2025-12-01'), found(practiceTimes.id, '2027-02-01')]).toEqual(['2', '1', '4']);
    expect([found('nobody', '2026-12-01'), found(practiceTimes.id, '2019-01-01')]).toEqual([undefined, undefined]);
    expect(kept.names('vapour-times')).toEqual([practiceTimes.id]);
  });
});

describe('a new edition', () => {
  const typed = async (s: Screen<NewTableScreen>): Promise<void> => {
    await s.type('Name that items go by', 'coast');
    await s.type('Edition', '4');
    await s.type('Title', 'Times');
    await s.type('Whose it is', 'Coast office');
    await s.type('Ullage up to', '3 000');
    await s.type('Watched for', '5');
    await s.type('Permitted loss', '0,3');
  };
  it('is typed, published, and asked about once more where a figure is odd', async () => {
    const s = new Screen(NewTableScreen);
    await s.answer('GET', '/api/tables', []);
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    // Nothing is sent while something is not said.
    await s.press('Publish it');
    s.http.expectNone('/api/tables');
    await typed(s);
    await s.press('Publish it');
    const first = s.asked('POST', '/api/tables');
    const body = first.request.body as { readonly table: FigureTable; readonly sure?: boolean };
    expect(body.sure).toBeUndefined();
    expect(body.table).toMatchObject({
      kind: 'vapour-times',
      id: 'coast',
      edition: '4',
      source: { title: 'Coast office' },
      lines: [{ upTo: { value: 3000, unit: '[gal_us]' }, gives: { hold: { value: 5, unit: 'min' }, permittedLoss: { value: 0.3, unit: "[in_i'H2O]" } } }],
    });
    first.flush({ code: 'table.odd', message: 'Line 1: odd: is that so?' }, { status: 422, statusText: 'odd' });
    await s.settle();
    expect(s.text).toContain('is that so?');
    await s.press('It is meant so: publish it');
    const second = s.asked('POST', '/api/tables');
    expect(second.request.body).toMatchObject({ sure: true });
    second.flush({ digest: 'd' });
    await s.settle();
    expect(go).toHaveBeenCalledWith(['/tables']);
  });
  it('reads a file into its fields: what the server cannot read is said, and nothing is published by it', async () => {
    const s = new Screen(NewTableScreen);
    await s.answer('GET', '/api/tables', []);
    const give = async (name: string, text: string): Promise<void> => {
      const input = s.page.querySelector<HTMLInputElement>('#file');
      Object.defineProperty(input, 'files', { value: [{ name, text: () => Promise.resolve(text) }], configurable: true });
      input?.dispatchEvent(new Event('change'));
      await new Promise((r) => setTimeout(r, 20));
      await s.settle();
    };
    await give('times.csv', 'x');
    await s.answer('POST', '/api/tables/read', { lines: practiceTimes.lines, flaws: [{ line: 2, message: 'Line 2: lines go up' }] });
    expect(s.text).toContain('Line 2: lines go up');
    expect([...s.page.querySelectorAll('legend')].map((l) => l.textContent.trim())).toEqual(['Line 1', 'Line 2', 'Line 3']);
    await give('times.json', JSON.stringify({ ...practiceTimes, edition: '9', lines: practiceTimes.lines.slice(0, 1) }));
    expect(s.page.querySelectorAll('legend')).toHaveLength(1);
    expect(s.page.querySelector<HTMLInputElement>('#table-edition')?.value).toBe('9');
    await give('times.json', '{"kind":"vapour-times"}');
    expect(s.page.querySelector('.problem')).not.toBeNull();
    expect(s.page.querySelector<HTMLInputElement>('#table-edition')?.value).toBe('9');
  });
});
