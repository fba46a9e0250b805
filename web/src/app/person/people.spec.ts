import { TestBed } from '@angular/core/testing';
import type { PersonRow } from '@grellin/contract';
import { addDays, catalogue, type Procedure } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { Screen } from '../../testing/screen';
import { Undo } from '../undo/undo';
import { People } from './people';

const today = new Date().toISOString().slice(0, 10);
const granted = (id: string, until: string, runsOut: boolean) => ({ id, procedure: id, title: `Check ${id}`, until, stamp: 'OS 7', runsOut });
const person: PersonRow = {
  id: 'p1',
  name: 'tester',
  fullName: 'The tester',
  role: 'tester',
  disabled: false,
  authorisations: [granted('g1', addDays(today, 400), false), granted('g2', addDays(today, 9), true), granted('g3', addDays(today, -1), true)],
};
const own: Procedure = { ...(catalogue[0] as Procedure), id: 'own.check', title: 'Own check' };
const procedures = [...catalogue, own].map((document) => ({ digest: 'd', document }));

describe('who may test', () => {
  const shown = async (role: 'officer' | 'reader' = 'officer'): Promise<Screen<People>> => {
    const s = new Screen(People, role);
    await s.answer('GET', '/api/procedures', procedures);
    await s.answer('GET', '/api/people', [person, { ...person, id: 'p2', fullName: 'The reader', role: 'reader', authorisations: [] }]);
    return s;
  };

  it('is told with what ran out and what will soon', async () => {
    const s = await shown();
    expect(s.text).toContain('authorised for 2 procedures');
    expect(s.text).toContain(`ran out ${addDays(today, -1)}`);
    expect(s.text).toContain(`until ${addDays(today, 9)}, soon`);
    expect(s.text).toContain('May look, not test.');
  });

  it('is authorised for what is built in and for what an officer has published, until a day, under a stamp', async () => {
    const s = await shown();
    await s.press('Authorise The tester');
    await s.pick('Procedures', 'Own check');
    await s.press('Authorise');
    const asked = await s.answer('POST', '/api/authorisations', { granted: 1, change: 'c1' });
    expect(asked.request.body).toEqual({ account: 'p1', procedures: ['own.check'], until: addDays(today, 365), stamp: 'OS 7' });
    await s.answer('GET', '/api/people', [person]);
    expect(TestBed.inject(Undo).offer()).toMatchObject({ change: 'c1' });
  });

  it('is no longer, once it is withdrawn, and is again once that is taken back', async () => {
    const s = await shown();
    await s.press('Withdraw Check g1 from The tester');
    await s.answer('DELETE', '/api/authorisations/g1', { change: 'c2' });
    await s.answer('GET', '/api/people', [{ ...person, authorisations: person.authorisations.slice(1) }]);
    TestBed.inject(Undo).takeBack();
    await s.answer('POST', '/api/changes/c2/undo', { what: 'x' });
    await s.answer('GET', '/api/people', [person]);
    expect(s.text).toContain('Check g1');
  });

  it('is changed by the officer alone', async () => {
    const s = await shown('reader');
    expect(s.page.querySelectorAll('button')).toHaveLength(0);
  });
});
