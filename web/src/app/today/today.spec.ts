import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { AssetRow, TodayView } from '@grellin/contract';
import { type Action, provideState, provideStore, Store } from '@ngrx/store';
import { beforeEach, describe, expect, it } from 'vitest';
import { anItem } from '../../testing/items';
import { accountFeature } from '../account/accountStore';
import { Today } from './today';
import { TodayActions, todayFeature } from './todayStore';

const asset = (tag: string, more: Partial<AssetRow>): AssetRow =>
  anItem({ id: tag, tag, serial: `S-${tag}`, place: 'Fire store', readiness: 'due', why: 'due tomorrow', due: '2026-11-26', ...more });
const view: TodayView = {
  date: '2026-11-25',
  condemned: { rows: [], more: false },
  heldBack: { rows: [], more: false },
  neverTested: { rows: [], more: false },
  blocked: {
    rows: [
      asset('GS-04', {
        readiness: 'blocked',
        why: 'it lost too much',
        last: { record: 'GR-1', verdict: 'fail', word: 'leaks', allowancePercent: 174, on: '2026-11-22' },
      }),
    ],
    more: false,
  },
  checkFirst: {
    rows: [
      asset('TR-03', {
        readiness: 'checkFirst',
        why: 'before the next use',
        last: { record: 'GR-2', verdict: 'pass', word: 'is tight', allowancePercent: 20, on: '2026-11-24' },
      }),
    ],
    more: false,
  },
  overdue: { rows: [], more: false },
  useUp: { rows: [], more: false },
  due: { rows: [asset('GS-09', {})], more: true },
  kits: [
    {
      id: 'k',
      name: 'Entry team',
      needs: [{ class: 'breathing-set', minimum: 4, ready: 3, held: 4 }],
      ready: false,
      short: '3 of 4 breathing sets ready; one more needed',
      checkFirst: [asset('BA-04', { readiness: 'checkFirst' })],
      assets: [],
    },
  ],
  running: [],
  instruments: [{ id: 'i', tag: 'MG-03', title: 'Manometer', calibrationDue: '2026-11-20', days: -5 }],
};

describe('Today', () => {
  beforeEach(() =>
    TestBed.configureTestingModule({ providers: [provideRouter([]), provideStore(), provideState(todayFeature), provideState(accountFeature)] }),
  );
  const shown = (...actions: readonly Action[]): HTMLElement => {
    const fixture = TestBed.createComponent(Today);
    for (const action of actions) TestBed.inject(Store).dispatch(action);
    fixture.detectChanges();
    return fixture.nativeElement as HTMLElement;
  };

  it('says in words why an item may not be used, and starts the work that each line names', () => {
    const page = shown(TodayActions.arrived({ today: view }));
    expect(page.querySelector('h1')?.textContent).toBe('Wednesday 25 November');
    expect([...page.querySelectorAll('h2')].map((h) => h.firstChild?.textContent?.trim())).toEqual([
      'May not be used',
      'Check before use',
      'Due in the next two weeks',
      'Running',
      'Kits going out',
      'Instruments falling due',
    ]);
    expect(page.textContent).toContain('it lost too much');
    expect(page.textContent).toContain('174 %');
    const start = page.querySelector<HTMLAnchorElement>('a[aria-label="Retest GS-04"]');
    expect(start?.getAttribute('href')).toBe('/register/GS-04#start');
    expect(page.textContent).toContain('calibration ran out');
  });

  it('says what a kit lacks, and which check would mend it', () => {
    const page = shown(TodayActions.arrived({ today: view }));
    expect(page.textContent).toContain('3 of 4 breathing sets ready; one more needed');
    expect(page.textContent).toContain('Check BA-04 before use');
  });

  it('leads to the register where there are more than a morning’s lines', () => {
    const page = shown(TodayActions.arrived({ today: view }));
    expect(page.querySelector('a.more')?.getAttribute('href')).toBe('/register?state=due&sort=due');
    expect(page.querySelector('header')?.textContent).toContain('more than 1 due');
  });

  it('says that nothing is blocked when nothing is', () => {
    expect(
      shown(
        TodayActions.arrived({ today: { ...view, checkFirst: { rows: [], more: false }, blocked: { rows: [], more: false }, due: { rows: [], more: false } } }),
      ).textContent,
    ).toContain('Nothing is blocked, late or due');
  });

  it('keeps the last known state when the server is away, and says so', () => {
    const page = shown(TodayActions.arrived({ today: view }), TodayActions.failed({ problem: { code: 'network', message: 'The server cannot be reached.' } }));
    expect(page.querySelector('[role="alert"]')?.textContent).toContain('The server cannot be reached.');
    expect(page.textContent).toContain('GS-04');
  });

  it('says that it is looking, before the first answer', () => expect(shown().querySelector('[role="status"]')?.textContent).toContain('Looking up'));
});
