import { TestBed } from '@angular/core/testing';
import type { ImportReport } from '@grellin/contract';
import { describe, expect, it } from 'vitest';
import { Screen } from '../../../testing/screen';
import { Undo } from '../../undo/undo';
import { guessColumn, ImportScreen } from './importScreen';

const csv = 'Tag,Serial no,Class,What it is,Place,Volume\r\nGS-20,S1,gas-tight-suit,Suit,Fire store,200 L\r\nGS-21,S2,hat,Hat,Loft,\r\n';
const report = (more: Partial<ImportReport> = {}): ImportReport => ({
  rows: 2,
  new: 1,
  changed: 0,
  same: 0,
  bad: 1,
  fates: [
    { row: 2, tag: 'GS-20', fate: 'new', flaws: [] },
    { row: 3, tag: 'GS-21', fate: 'bad', flaws: [{ column: 'class', message: 'there is no class “hat”' }] },
  ],
  written: false,
  change: null,
  ...more,
});

describe('a register’s file', () => {
  it.each([
    [{ id: 'tag', title: 'Tag' }, 'TAG'],
    [{ id: 'made_on', title: 'Made on' }, 'made on'],
    [{ id: 'attribute:volume', title: 'Inside volume' }, 'volume'],
    [{ id: 'attribute:volume', title: 'Inside volume' }, 'Inside Volume'],
    [{ id: 'life', title: 'Life' }, ''],
  ])('%o stands most likely in %s', (field, want) => expect(guessColumn(field, ['TAG', 'made on', want])).toBe(want === '' ? '' : want));

  const taken = async (text: string): Promise<Screen<ImportScreen>> => {
    const s = new Screen(ImportScreen);
    await s.choose('A CSV file (RFC 4180)', 'register.csv', 'text/csv', text);
    return s;
  };

  it('has its columns matched by their names, and asks for what is not found', async () => {
    const s = await taken(csv);
    expect((s.control('Class (needed)') as HTMLSelectElement).value).toBe('Class');
    expect(s.text).toContain('Match a column to: serial.');
    expect(s.button('Try it: nothing is written').disabled).toBe(true);
    await s.type('Serial (needed)', 'Serial no');
    expect(s.text).toContain('S1, S2');
    expect(s.button('Try it: nothing is written').disabled).toBe(false);
  });

  it('is tried dry, tells every bad row, and is then written all or none, with a way back', async () => {
    const s = await taken(csv);
    await s.type('Serial (needed)', 'Serial no');
    await s.press('Try it: nothing is written');
    const dry = await s.answer('POST', '/api/assets/import', report());
    expect(dry.request.body).toMatchObject({ csv, write: false, columns: { tag: 'Tag', serial: 'Serial no', 'attribute:volume': 'Volume' } });
    expect(s.text).toContain('What would be written');
    expect(s.text).toContain('3GS-21class: there is no class “hat”');
    await s.press('Write 1 rows, all or none');
    expect(s.text).toContain('Writing…');
    const written = await s.answer('POST', '/api/assets/import', report({ written: true, change: 'c1' }));
    expect(written.request.body).toMatchObject({ write: true });
    expect(s.text).toContain('What was written');
    expect(TestBed.inject(Undo).offer()).toMatchObject({ change: 'c1', words: '1 items added, 0 changed' });
  });

  it('of nothing but words is no register, and a refusal is said', async () => {
    const s = await taken('one column\r\nx\r\n');
    expect(s.text).toContain('This file has no columns');
    const broken = await taken(csv);
    await broken.type('Serial (needed)', 'Serial no');
    await broken.press('Try it: nothing is written');
    await broken.refuse('POST', '/api/assets/import', 400, { code: 'import.csv', message: 'The file is no CSV: row 3.' });
    expect(broken.text).toContain('The file is no CSV: row 3.');
  });
});
