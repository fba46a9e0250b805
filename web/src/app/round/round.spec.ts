import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { RoundRun, RoundView } from '@grellin/contract';
import { describe, expect, it, vi } from 'vitest';
import { Screen } from '../../testing/screen';
import { Leases } from '../run/lease';
import { NextItem } from './nextItem';
import { RoundRows } from './roundRows';
import { RoundScreen } from './roundScreen';

const run = (tag: string, more: Partial<RoundRun> = {}): RoundRun => ({
  run: `r-${tag}`,
  asset: `a-${tag}`,
  tag,
  serial: `S-${tag}`,
  title: 'Cylinder',
  startedAt: '2026-12-01T08:00:00Z',
  by: 'The tester',
  record: `GR-${tag}`,
  verdict: 'pass',
  word: 'passes',
  summary: 'all well',
  sealedAt: '2026-12-01T08:20:00Z',
  nextDue: '2031-12-01',
  provedIn: null,
  doubted: null,
  ...more,
});
const round = (runs: readonly RoundRun[], more: Partial<RoundView> = {}): RoundView => ({
  id: 'b1',
  procedure: 'cyl.water-jacket',
  title: 'Cylinder, water-jacket expansion',
  ruleSet: 'us-metal',
  ruleSetTitle: 'Ten per cent',
  openedAt: '2026-12-01T08:00:00Z',
  by: 'The tester',
  closedAt: null,
  counts: { pass: 2, fail: 1, other: 0, open: 0 },
  runs,
  instruments: [{ channel: 'Test gauge', tag: 'WJ-01' }],
  proves: true,
  ...more,
});

describe('the sheet of a round', () => {
  it('shows each item with what it came to, what it stands on, and what must be tested again', async () => {
    const s = new Screen(RoundScreen, 'tester', { id: 'b1' });
    const rows = [
      run('CY-01'),
      run('CY-02', { provedIn: 'GR-CY-01', doubted: 'GR-CY-04' }),
      run('CY-03', { verdict: 'fail', word: 'condemned' }),
      run('CY-05', { record: null, verdict: null, word: 'open' }),
    ];
    await s.answer('GET', '/api/rounds/b1', round(rows));
    expect(s.text).toContain('Rig proved in GR-CY-01.');
    expect(s.text).toContain('The rig was found at fault afterwards, in GR-CY-04: test this item again.');
    expect(s.text).toContain('condemned');
    expect([...s.page.querySelectorAll('a')].map((a) => a.getAttribute('href'))).toEqual(
      expect.arrayContaining(['/bench/r-CY-05', '/log/GR-CY-01', '/api/rounds/b1/sheet']),
    );
    await s.press('End the round');
    await s.press('End it');
    await s.answer('POST', '/api/rounds/b1/end', { id: 'b1' });
    await s.answer('GET', '/api/rounds/b1', round(rows, { closedAt: '2026-12-01T12:00:00Z' }));
    expect(s.page.querySelector('gr-next-item')).toBeNull();
  });
  it('a reader looks on', async () => {
    const s = new Screen(RoundScreen, 'reader', { id: 'b1' });
    await s.answer('GET', '/api/rounds/b1', round([]));
    expect(s.text).toContain('No item yet');
    expect(s.page.querySelectorAll('button')).toHaveLength(0);
  });
});

describe('the next item', () => {
  it('is opened by a scan, once, and this browser holds its lease', async () => {
    const s = new Screen(NextItem, 'tester', { round: 'b1', again: true });
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    const hold = vi.spyOn(TestBed.inject(Leases), 'hold');
    expect(s.button('Open it').disabled).toBe(true);
    await s.type('Next item of the round: scan or type its serial', ' SY-88041 ');
    // A scanner's Enter, twice: a hurried hand opens one run.
    const form = s.page.querySelector('form');
    form?.dispatchEvent(new Event('submit'));
    form?.dispatchEvent(new Event('submit'));
    const asked = await s.answer('POST', '/api/rounds/b1/runs', { id: 'r9', lease: 1, secret: 'x' });
    expect(asked.request.body).toEqual({ code: 'SY-88041' });
    expect(hold).toHaveBeenCalledWith('me', 'r9', 1, 'x');
    expect(go).toHaveBeenCalledWith(['/bench', 'r9']);
  });
  it('says why it is refused, leads to the run that is open, and proves the rig again where that is asked', async () => {
    const s = new Screen(NextItem, 'tester', { round: 'b1', again: true });
    await s.type('Next item of the round: scan or type its serial', 'X');
    s.page.querySelector<HTMLInputElement>('input[type=checkbox]')?.click();
    await s.settle();
    s.page.querySelector('form')?.dispatchEvent(new Event('submit'));
    const asked = s.asked('POST', '/api/rounds/b1/runs');
    expect(asked.request.body).toEqual({ code: 'X', proveAgain: true });
    asked.flush({ code: 'round.running', message: 'A run of X is open: go on with that one.', values: { run: 'r7' } }, { status: 409, statusText: 'refused' });
    await s.settle();
    expect(s.text).toContain('go on with that one');
    expect(s.page.querySelector('a')?.getAttribute('href')).toBe('/bench/r7');
  });
});

describe('rounds beside the benches', () => {
  it('are listed with how far they have come', async () => {
    const s = new Screen(RoundRows, 'tester');
    await s.answer('GET', '/api/rounds', [round([]), { ...round([], { closedAt: '2026-12-01T12:00:00Z' }), id: 'b2' }]);
    expect(s.text).toContain('3 done, 1 failed, begun');
    expect(s.text).toContain('ended: 3 done, 1 failed');
  });
});
