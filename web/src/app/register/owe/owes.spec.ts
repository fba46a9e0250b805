import { TestBed } from '@angular/core/testing';
import type { ObligationRow } from '@grellin/contract';
import { catalogue } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { Screen } from '../../../testing/screen';
import { Undo } from '../../undo/undo';
import { Owes } from './owes';

const owed = (more: Partial<ObligationRow> = {}): ObligationRow => ({
  id: 'o1',
  asset: 'a',
  procedure: 'suit.inflation',
  title: 'Gas-tight suit, inflation test',
  ruleSet: 'in-h2o-4',
  ruleSetTitle: '4 inH2O',
  interval: 'P1Y',
  counting: 'rolling',
  anchor: '2026-01-01',
  early: null,
  stamp: 'day',
  triggers: ['afterUse'],
  filled: null,
  hard: false,
  due: '2027-01-01',
  lastDone: null,
  owedNow: false,
  moves: [],
  outside: [],
  ...more,
});
const move = { id: 'm', kind: 'deferred', before: '2026-12-01', after: '2027-01-01', reason: 'ship is late', by: 'The officer', at: '2026-11-25T08:00:00Z', takenBack: false } as const; // prettier-ignore
const shown = (obligations: readonly ObligationRow[], more: Readonly<Record<string, unknown>> = {}): Screen<Owes> =>
  new Screen(Owes, 'officer', {
    asset: 'a',
    kind: 'gas-tight-suit',
    obligations,
    series: [],
    procedures: catalogue.map((document) => ({ digest: 'd', document })),
    officer: true,
    today: '2026-11-25',
    ...more,
  });

describe('what an item owes', () => {
  it('that is owed once is not said to come back', () => {
    const s = shown([owed({ interval: 'P5Y', counting: 'once', anchor: '2021-03-09' })]);
    expect(s.text).toContain('once, 5 years after 2021-03-09');
    expect(s.text).not.toContain('every 5 years');
  });

  it('says how often, after what, and what moved a date; what was taken back is struck through and stays', () => {
    const s = shown([owed({ moves: [move, { ...move, id: 'n', takenBack: true }], filled: 'untilEmptied' })]);
    expect(s.text).toContain('every year, from the day it was done; and after use');
    expect(s.text).toContain('Filled before it is due, it may be emptied after, and not filled again.');
    expect(s.text).toContain('Put off from 2026-12-01 to 2027-01-01 by The officer: ship is late');
    expect(s.page.querySelectorAll('.back')).toHaveLength(1);
    expect(s.text).toContain('(taken back)');
  });

  it('that was never tested asks when it last was, and takes a certificate from outside', async () => {
    const s = shown([owed()]);
    expect(s.text).toContain('Last tested on?');
    await s.press('Enter its certificate');
    expect(s.page.querySelector('#on-o1')).not.toBeNull();
    expect(s.text).not.toContain('Last tested on?');
    expect(shown([owed({ lastDone: '2026-01-01' })]).text).not.toContain('Last tested on?');
    const tester = shown([owed()], { officer: false });
    expect(tester.text).toContain('or test it here');
    expect(tester.page.querySelector('button')).toBeNull();
  });

  it('is put off with a reason, and offers the way back', async () => {
    const s = shown([owed()]);
    await s.press('Put off');
    expect(s.button('Put it off').disabled).toBe(true);
    await s.type('Until', '2027-02-01');
    await s.type('Reason', ' ship is late ');
    await s.press('Put it off');
    const asked = await s.answer('POST', '/api/obligations/o1/deferral', { change: 'c1' });
    expect(asked.request.body).toEqual({ to: '2027-02-01', reason: 'ship is late' });
    expect(TestBed.inject(Undo).offer()).toMatchObject({ change: 'c1', words: 'Put off to 2027-02-01' });
  });

  it('is not put off past a law’s date', () => {
    const s = shown([owed({ hard: true })]);
    expect(() => s.button('Put off')).toThrow();
    expect(s.text).toContain('A law’s date: it cannot be put off.');
  });

  it('is brought forward where the trend asks for it', async () => {
    const s = shown([owed()], { series: [{ procedure: 'suit.inflation', title: 't', points: [], strips: [], outlook: { propose: '2026-12-24' } }] });
    expect(s.text).toContain('It would cross its limit before the next check. Test it by 2026-12-24?');
    await s.press('Bring it forward');
    expect((await s.answer('POST', '/api/obligations/o1/proposal', { change: 'c' })).request.body).toEqual({ to: '2026-12-24' });
  });

  it('is settled by a certificate from outside, scan and all', async () => {
    const s = shown([owed()]);
    await s.press('Certificate from outside');
    await s.type('Done on', '2026-11-20');
    await s.type('By', 'Test house');
    await s.type('Number', 'C-1');
    expect(s.button('Settle it').disabled).toBe(true);
    await s.choose('Scan (PDF, PNG or JPEG)', 'scan.pdf', 'application/pdf', '%PDF-1.4');
    await s.press('Settle it');
    const asked = await s.answer('POST', '/api/obligations/o1/outside', { due: '2027-11-20', change: 'c2' });
    expect(asked.request.body).toEqual({ doneOn: '2026-11-20', issuer: 'Test house', number: 'C-1', scan: btoa('%PDF-1.4') });
    expect(TestBed.inject(Undo).offer()).toMatchObject({ change: 'c2', words: 'Settled; next due 2027-11-20' });
  });

  it('is given another check by its rules, its days and what makes it owed', async () => {
    const s = shown([]);
    await s.press('Another check');
    await s.type('Every', '');
    expect(s.button('Let it owe this').disabled).toBe(true);
    await s.tick('after use');
    await s.press('Let it owe this');
    const asked = await s.answer('POST', '/api/obligations', { change: 'c3' });
    expect(asked.request.body).toMatchObject({ asset: 'a', procedure: 'suit.inflation', interval: null, triggers: ['afterUse'] });
    expect(s.page.querySelector('form[aria-label="Another check"]')).toBeNull();
  });

  it('is looked at by others, and changed by none of them', () => {
    const s = shown([owed()], { officer: false });
    expect(s.page.querySelectorAll('button')).toHaveLength(0);
  });

  it('says what the server refuses', async () => {
    const s = shown([owed()]);
    await s.press('No longer owed');
    await s.refuse('DELETE', '/api/obligations/o1', 409, { code: 'obligation.unknown', message: 'Nothing of the kind is owed.' });
    expect(TestBed.inject(Undo).offer()).toMatchObject({ refused: true, words: 'Nothing of the kind is owed.' });
  });
});
