import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { LogPage, RecordRow } from '@grellin/contract';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import { describe, expect, it } from 'vitest';
import { Screen } from '../../testing/screen';
import { Log } from './log';
import { LogEffects } from './logEffects';
import { logFeature } from './logStore';

const aRecord = (number: string, more: Partial<RecordRow> = {}): RecordRow => ({ number, run: number, procedure: 'suit.inflation', procedureTitle: 'Suit', ruleSet: 'a', ruleSetTitle: 'A', asset: 'a1', tag: `T-${number}`, assetTitle: 'A suit', verdict: 'pass', word: 'is tight', blocks: false, holds: false, condemns: false, allowancePercent: 40, simulated: false, practice: false, sealedAt: '2026-11-25T08:15:00.000Z', by: 'The tester', nextDue: '2027-11-25', ...more }); // prettier-ignore
const page = (rows: readonly RecordRow[], next: string | null = null): LogPage => ({ rows, next, count: rows.length, more: false });
const opened = (inputs: Readonly<Record<string, unknown>> = {}): Screen<Log> =>
  new Screen(Log, 'reader', inputs, [provideState(logFeature), provideEffects(LogEffects)]);
/** Longer than somebody who types is waited for. */
const typed = (): Promise<void> => new Promise((done) => setTimeout(done, 400));

describe('the log', () => {
  it('asks what the address asks, and has it in its fields', async () => {
    const s = opened({ q: 'GS', verdict: 'fail', from: '2026-11-01' });
    await s.settle();
    const asked = await s.answer('GET', '/api/records', page([aRecord('GR-1')]));
    expect(asked.request.params.toString()).toBe('q=GS&from=2026-11-01&verdict=fail');
    expect(s.control('Find in the log').value).toBe('GS');
    expect(s.text).toContain('T-GR-1');
    expect(s.text).toContain('1 record');
    expect(s.page.querySelector<HTMLAnchorElement>('a[href*="records.csv"]')?.getAttribute('href')).toBe('/api/records.csv?q=GS&from=2026-11-01&verdict=fail');
  });

  it('puts what is typed into the address once the hand rests, and leaves what is typed meanwhile', async () => {
    const s = opened();
    await s.settle();
    await s.answer('GET', '/api/records', page([]));
    await s.type('Find in the log', 'gs');
    await s.type('Find in the log', 'gs-0');
    await typed();
    expect(TestBed.inject(Router).url).toBe('/?q=gs-0');
    await s.type('Find in the log', 'gs-04');
    // The address that was asked for arrives while the next sign is typed.
    s.fixture.componentRef.setInput('q', 'gs-0');
    await s.settle();
    await s.answer('GET', '/api/records', page([aRecord('GR-1')]));
    expect(s.control('Find in the log').value).toBe('gs-04');
    await typed();
    expect(TestBed.inject(Router).url).toBe('/?q=gs-04');
  });

  it('shows more after what is there; the rest of an older question is not put after a newer one', async () => {
    const s = opened();
    await s.settle();
    await s.answer('GET', '/api/records', page([aRecord('GR-9')], 'after-9'));
    await s.press('Show more');
    const more = await s.answer('GET', '/api/records', page([aRecord('GR-8')], 'after-8'));
    expect(more.request.params.get('after')).toBe('after-9');
    expect(s.text).toMatch(/GR-9.*GR-8/);
    await s.press('Show more');
    const late = s.asked('GET', '/api/records');
    s.fixture.componentRef.setInput('verdict', 'fail');
    await s.settle();
    expect(late.cancelled).toBe(true);
    await s.answer('GET', '/api/records', page([aRecord('GR-3')]));
    expect(s.text).not.toContain('GR-9');
  });

  it('says what would stand here before anything was sealed, and that nothing is like what was asked', async () => {
    const s = opened();
    await s.settle();
    await s.answer('GET', '/api/records', page([]));
    expect(s.text).toContain('Nothing has been sealed yet.');
    s.fixture.componentRef.setInput('verdict', 'void');
    await s.settle();
    await s.answer('GET', '/api/records', page([]));
    expect(s.text).toContain('No record is like that.');
  });

  it('keeps what it shows where the next answer is a refusal, and says it', async () => {
    const s = opened();
    await s.settle();
    await s.answer('GET', '/api/records', page([aRecord('GR-9')]));
    s.fixture.componentRef.setInput('from', 'yesterday');
    await s.settle();
    await s.refuse('GET', '/api/records', 400, { code: 'malformed', message: 'from is no date.' });
    expect(s.text).toContain('from is no date.');
    expect(s.text).toContain('GR-9');
  });
});
