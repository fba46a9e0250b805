import { TestBed } from '@angular/core/testing';
import type { KitRow } from '@grellin/contract';
import { describe, expect, it } from 'vitest';
import { Screen } from '../../testing/screen';
import { Undo } from '../undo/undo';
import { Kits } from './kits';

const team: KitRow = {
  id: 'k1',
  name: 'Entry team',
  needs: [{ class: 'breathing-set', minimum: 4, ready: 3, held: 4 }],
  ready: false,
  short: '3 of 4 breathing sets ready; one more needed',
  checkFirst: [],
  assets: ['a1', 'a2'],
};
const rows = [
  { id: 'a1', tag: 'BA-01' },
  { id: 'a2', tag: 'BA-02' },
];

describe('kits', () => {
  it('say what they lack in words', async () => {
    const s = new Screen(Kits, 'reader');
    await s.answer('GET', '/api/kits', [team]);
    expect(s.text).toContain('Entry team short of readiness');
    expect(s.text).toContain('3 of 4 breathing sets ready; one more needed');
    expect(s.text).toContain('3 ready of 4 held, 4 needed: Breathing set');
    expect(s.page.querySelectorAll('button')).toHaveLength(0);
  });

  it('are changed as a whole, and the change can be taken back', async () => {
    const s = new Screen(Kits);
    await s.answer('GET', '/api/kits', [team]);
    await s.press('Change');
    await s.answer('GET', '/api/assets', { rows, next: null, count: 2 });
    await s.press('Take BA-02 out');
    await s.type('How many, need 1', '3');
    await s.press('Keep it');
    const asked = await s.answer('PUT', '/api/kits/k1', { id: 'k1', change: 'c1' });
    expect(asked.request.body).toEqual({ name: 'Entry team', needs: [{ class: 'breathing-set', minimum: 3 }], assets: ['a1'] });
    await s.answer('GET', '/api/kits', [{ ...team, ready: true, short: null }]);
    expect(s.text).toContain('Entry team ready');
    const undo = TestBed.inject(Undo);
    expect(undo.offer()).toMatchObject({ change: 'c1', words: 'Kit Entry team changed' });
    undo.takeBack();
    await s.answer('POST', '/api/changes/c1/undo', { what: 'kit Entry team changed' });
    await s.answer('GET', '/api/kits', [team]);
    expect(s.text).toContain('short of readiness');
  });

  it('are put together from items that are found, each once', async () => {
    const s = new Screen(Kits);
    await s.answer('GET', '/api/kits', []);
    expect(s.text).toContain('No kit is put together yet.');
    await s.press('New kit');
    expect(s.button('Keep it').disabled).toBe(true);
    await s.type('Name', 'Dive team');
    await s.type('Items', 'ba-');
    await s.answer('GET', '/api/assets', { rows, next: null, count: 2 });
    await s.press('+ BA-01');
    await s.press('+ BA-01');
    await s.press('Keep it');
    const asked = await s.answer('POST', '/api/kits', { id: 'k2', change: 'c2' });
    expect(asked.request.body).toEqual({ name: 'Dive team', needs: [{ class: 'breathing-set', minimum: 1 }], assets: ['a1'] });
  });
});
