import { TestBed } from '@angular/core/testing';
import { describe, expect, it } from 'vitest';
import { Screen } from '../../../testing/screen';
import { Undo } from '../../undo/undo';
import { Changes } from './changes';

const change = { id: 'c1', what: 'GS-04 moved to Loft', by: 'The officer', at: '2026-11-25T08:15:00.000Z', rows: 1 };

describe('what was changed', () => {
  it('is listed, and taken back by the officer', async () => {
    const s = new Screen(Changes);
    await s.answer('GET', '/api/changes', [change]);
    expect(s.text).toContain('2026-11-25 08:15');
    expect(s.text).toContain('GS-04 moved to Loft · The officer');
    await s.press('Take back: GS-04 moved to Loft');
    await s.answer('POST', '/api/changes/c1/undo', { what: change.what });
    await s.answer('GET', '/api/changes', []);
    expect(s.text).toContain('Nothing was changed that could be taken back.');
    expect(TestBed.inject(Undo).offer()?.words).toBe('Taken back: GS-04 moved to Loft');
  });

  it('says why a later change has to go first', async () => {
    const s = new Screen(Changes);
    await s.answer('GET', '/api/changes', [change]);
    await s.press('Take back: GS-04 moved to Loft');
    await s.refuse('POST', '/api/changes/c1/undo', 409, { code: 'change.overtaken', message: 'It has been changed again since: undo that first.' });
    expect(TestBed.inject(Undo).offer()).toMatchObject({ refused: true, words: 'It has been changed again since: undo that first.' });
    expect(s.text).toContain('GS-04 moved to Loft');
  });
});
