import { describe, expect, it } from 'vitest';
import { practiceRun, rigFor, setupFor } from '../../src/practice';
import { makePlan, procedureById, type Procedure } from '../../src/procedure';
import { findingInWords, foldAll, judge, may, planOfRun, type Opened, type RunEvent } from '../../src/run';

/** CARB TP-201.3: a vapour system is tested between sunset and half an hour after sunrise; the sun that warms it makes pressure. */
const performed = practiceRun('tank.vapour-2', 'balance', rigFor('tank.vapour-2') ?? '', 'none');
const began = performed.events.find((e) => e.kind === 'began' && e.stage.startsWith('pressure'))?.at ?? 0;

/** The same test, with a clock that has an hour, begun so that its hold begins or ends at an instant. */
function atHour(startedAt: number): { readonly verdict: string; readonly words: string; readonly refused: string | null } {
  const opened: Opened = { kind: 'opened', ...performed.opened, clock: 'live', offset: '+01:00', startedAt: new Date(startedAt).toISOString() };
  const made = planOfRun(procedureById('tank.vapour-2') as Procedure, opened);
  if (!made.ok) throw new Error(JSON.stringify(made.refusal));
  const events = performed.events.map((e): RunEvent => (e.kind === 'opened' ? { ...e, ...opened } : e));
  const state = foldAll(events);
  const { verdict, findings } = judge(made.plan, state);
  const i = events.findIndex((e) => e.kind === 'began' && e.stage.startsWith('pressure'));
  const begin = events[i] as RunEvent;
  return { verdict, words: findings.map(findingInWords).join('\n'), refused: may(made.plan, foldAll(events.slice(0, i)), begin)?.code ?? null };
}

describe('a stage that is done by night', () => {
  const noon = Date.parse('2026-03-20T11:00:00Z');
  const night = Date.parse('2026-03-20T22:00:00Z');
  it('is begun by nobody at noon, and passes nothing that was', () => {
    const day = atHour(noon - began);
    expect([day.verdict, day.refused]).toEqual(['void', 'step.unmet']);
    expect(day.words).toContain('it is day there at 12:00; this is done between sunset and half an hour after sunrise');
  });
  it('passes at night', () => expect(atHour(night - began)).toMatchObject({ verdict: 'pass', refused: null }));
  it('is no test where it goes on into the morning', () => {
    // At the equinox the sun rises at ten to five, UTC, at this longitude: twenty past is the end of the night.
    const beginning = (text: string) => atHour(Date.parse(text) - began);
    expect(beginning('2026-03-20T04:40:00Z')).toMatchObject({ verdict: 'pass', refused: null });
    // It may be begun when it will last too long: then it is void, and never a pass.
    expect(beginning('2026-03-20T05:15:00Z')).toMatchObject({ verdict: 'void', refused: null });
    expect(beginning('2026-03-20T05:25:00Z')).toMatchObject({ verdict: 'void', refused: 'step.unmet' });
  });
  it('has no hour on a simulated clock: the answer is somebody’s', () => expect(judge(performed.plan, performed.state).verdict).toBe('pass'));
  it('asks where the tank stands before a run is opened', () => {
    const setup = setupFor('tank.vapour-2', 'balance');
    const { latitude, ...attributes } = setup.assets['tank']?.attributes ?? {};
    expect(latitude).toBeDefined();
    const made = makePlan(procedureById('tank.vapour-2') as Procedure, 'd', 'balance', { tank: attributes }, undefined, setup);
    expect(made).toMatchObject({ ok: false, refusal: { code: 'plan.attributeUnknown', values: { attributes: 'tank.latitude' } } });
  });
});
