import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { AssetRow, PersonRow, RoundItemRow, RoundRun, RoundView } from '@grellin/contract';
import { describe, expect, it, vi } from 'vitest';
import { Screen } from '../../testing/screen';
import { Leases } from '../run/lease';
import { anItem } from '../../testing/items';
import { NewRoundScreen } from './newRound';
import { NextItem } from './nextItem';
import { RoundItems } from './roundItems';
import { RoundRows } from './roundRows';
import { RoundScreen } from './roundScreen';
import { RoundsScreen } from './roundsScreen';

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
  counts: { pass: 2, fail: 1, other: 0, open: 0, left: 0 },
  runs,
  items: [],
  instruments: [{ channel: 'Test gauge', tag: 'WJ-01' }],
  proves: true,
  ...more,
});

const item = (tag: string, more: Partial<RoundItemRow> = {}): RoundItemRow => ({
  asset: `a-${tag}`,
  tag,
  serial: `S-${tag}`,
  title: 'Cylinder',
  place: 'Shelf',
  stands: 'left',
  takenBy: null,
  takenAt: null,
  run: null,
  record: null,
  ...more,
});
const me = { id: 'me', name: 'The tester' };
const other = { id: 'o1', name: 'Another' };
const people = [
  { id: 'me', fullName: 'The tester', role: 'tester', disabled: false },
  { id: 'o1', fullName: 'Another', role: 'tester', disabled: false },
  { id: 'r1', fullName: 'Who looks on', role: 'reader', disabled: false },
  { id: 'g1', fullName: 'Who is gone', role: 'officer', disabled: true },
] as unknown as readonly PersonRow[];

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
    expect(s.text).toContain('3 done, 1 failed, 0 left, begun');
    expect(s.text).toContain('ended: 3 done, 1 failed');
  });
});

describe('what a round is to test', () => {
  const list = async (items: readonly RoundItemRow[], works = true): Promise<Screen<RoundItems>> => {
    const s = new Screen(RoundItems, 'tester', { round: round([], { items }), works });
    await s.answer('GET', '/api/people', people);
    return s;
  };
  const tick = async (s: Screen<RoundItems>, tag: string): Promise<void> => {
    s.page.querySelector<HTMLInputElement>(`#ri-a-${tag}`)?.click();
    await s.settle();
  };

  it('says of each how it stands and who has it, and who has how much', async () => {
    const s = await list([
      item('CY-01', { stands: 'passed', takenBy: me, record: 'GR-1' }),
      item('CY-02', { takenBy: me }),
      item('CY-03', { takenBy: other }),
      item('CY-04'),
      item('CY-05', { stands: 'open', takenBy: other, run: 'r5' }),
      item('CY-06', { stands: 'elsewhere', record: 'GR-6' }),
    ]);
    expect(s.text).toContain('The tester: 1 done, 1 left');
    expect(s.text).toContain('Another: 0 done, 1 left');
    expect(s.text).toContain('1 with nobody');
    expect(s.text).toContain('passed outside this round');
    expect([...s.page.querySelectorAll('li button')].map((b) => b.getAttribute('aria-label'))).toEqual(['Start CY-02', 'Take over CY-03', 'Start CY-04']);
    expect(s.page.querySelector('a[href="/bench/r5"]')).not.toBeNull();
    // Only what waits can be ticked.
    expect(s.page.querySelectorAll('input[type=checkbox]')).toHaveLength(3);
  });

  it('is taken by ticking, each with whom it is thought to be, and what the server knows is shown where it is refused', async () => {
    const s = await list([item('CY-02', { takenBy: other }), item('CY-04')]);
    const looked = vi.fn();
    s.fixture.componentInstance.changed.subscribe(looked);
    await tick(s, 'CY-02');
    await tick(s, 'CY-04');
    await s.press('Take 2');
    const asked = s.http.match('/api/rounds/b1/take');
    expect(asked.map((a) => a.request.body as unknown)).toEqual([
      { assets: ['a-CY-02'], from: 'o1', to: 'me' },
      { assets: ['a-CY-04'], from: null, to: 'me' },
    ]);
    asked[0]?.flush({ code: 'round.taken', message: 'Somebody has it meanwhile.' }, { status: 409, statusText: 'refused' });
    expect(looked).toHaveBeenLastCalledWith(null);
    asked[1]?.flush(round([], { items: [item('CY-04', { takenBy: me })] }));
    expect(looked).toHaveBeenLastCalledWith(expect.objectContaining({ id: 'b1' }));
  });

  it('what another has is begun by taking it over, and what somebody began meanwhile is no longer ticked', async () => {
    const s = await list([item('CY-03', { takenBy: other }), item('CY-04')]);
    vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await tick(s, 'CY-04');
    s.fixture.componentRef.setInput('round', round([], { items: [item('CY-03', { takenBy: other }), item('CY-04', { stands: 'open', run: 'r4' })] }));
    await s.settle();
    expect(() => s.button('Take 1')).toThrow('no button');
    await s.press('Take over CY-03');
    const asked = await s.answer('POST', '/api/rounds/b1/runs', { id: 'r9', lease: 1, secret: 'x' });
    expect(asked.request.body).toEqual({ code: 'CY-03', takeOver: true });
  });

  it('who looks on has no key', async () => {
    const s = await list([item('CY-04')], false);
    expect(s.page.querySelectorAll('button, input')).toHaveLength(0);
  });
});

describe('next on the list', () => {
  it('is one’s own before what nobody has, never what another has, and begun by one press', async () => {
    const s = new Screen(NextItem, 'tester', { round: 'b1' });
    vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await s.answer(
      'GET',
      '/api/rounds/b1',
      round([], { items: [item('CY-01', { takenBy: other }), item('CY-02'), item('CY-03', { stands: 'again', takenBy: me })] }),
    );
    await s.press('Next on the list: CY-03');
    expect((await s.answer('POST', '/api/rounds/b1/runs', { id: 'r9', lease: 1, secret: 'x' })).request.body).toEqual({ code: 'CY-03' });
  });
});

describe('a round is begun', () => {
  it('of what was chosen, by one of the tests that it owes, in the order in which it was found', async () => {
    const s = new Screen(NewRoundScreen, 'tester');
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await s.answer('GET', '/api/places', ['Shelf']);
    await s.answer('GET', '/api/kits', []);
    const rows: readonly AssetRow[] = ['CY-02', 'CY-01'].map((tag) =>
      anItem({ id: `a-${tag}`, tag, serial: tag, place: 'Shelf', readiness: 'due', why: 'due', due: '2026-12-01' }),
    );
    await s.press('Due within a week');
    await s.answer('GET', '/api/assets', { rows, count: 2, next: null });
    const groups = s.asked('POST', '/api/rounds/groups');
    expect(groups.request.body).toEqual({ assets: ['a-CY-02', 'a-CY-01'] });
    groups.flush([
      { procedure: 'p', title: 'Expansion', ruleSet: 'r', ruleSetTitle: 'Metal', assets: ['a-CY-01', 'a-CY-02'], inRounds: true },
      { procedure: 'q', title: 'Coupled', ruleSet: 'r', ruleSetTitle: 'Metal', assets: ['a-CY-01'], inRounds: false },
    ]);
    await s.settle();
    expect(s.text).toContain('each by itself');
    await s.press('Begin with all 2');
    const begun = s.asked('POST', '/api/rounds');
    expect(begun.request.body).toEqual({ procedure: 'p', ruleSet: 'r', assets: ['a-CY-02', 'a-CY-01'] });
    begun.flush({ code: 'round.noGauges', message: 'No gauge is known.' }, { status: 409, statusText: 'refused' });
    await s.settle();
    expect(s.page.querySelector('[role=alert] a')?.getAttribute('href')).toBe('/register/a-CY-02#start');
    await s.press('Begin with all 2');
    await s.answer('POST', '/api/rounds', { id: 'b9' });
    expect(go).toHaveBeenCalledWith(['/rounds', 'b9']);
  });

  it('for the day with one press; what is begun by itself is told with it', async () => {
    const s = new Screen(RoundsScreen, 'tester');
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await s.answer('GET', '/api/rounds', []);
    s.button('Start the day’s work').click();
    s.button('Start the day’s work').click();
    await s.answer('POST', '/api/rounds/day', { rounds: [round([])], alone: [] });
    expect(go).toHaveBeenCalledWith(['/rounds', 'b1']);
    await s.answer('GET', '/api/rounds', []);
    await s.press('Start the day’s work');
    await s.answer('POST', '/api/rounds/day', { rounds: [], alone: [{ asset: 'a1', tag: 'TR-03', title: 'Brakes', why: 'It is tested by itself.' }] });
    expect(s.text).toContain('TR-03 Brakes');
  });
});
