import { describe, expect, it } from 'vitest';
import { practiceRun, rigFor, truthOf } from '../../src/practice';
import { catalogue, channelsUsed, checkProcedure, procedureById, type Procedure } from '../../src/procedure';
import { findingInWords, judge, reasonInWords, verdictWord } from '../../src/run';

/** What has no gauge: a hand that keeps its time, and a finding that says what it cannot find. Common practice. */
const felt = catalogue.flatMap((p) => p.ruleSets.filter((r) => r.byFeel).map((r) => [p.id, r.id] as const));
const run = (procedure: string, ruleSet: string, fault: string) => practiceRun(procedure, ruleSet, rigFor(procedure) ?? '', fault);

describe('a school by feel', () => {
  it('is there for what has no gauge in common practice', () =>
    expect(felt.map(([p]) => p).sort()).toEqual(['anaes.coaxial-d', 'anaes.mapleson-a', 'anaes.t-piece', 'drysuit.survey']));

  it.each(felt)('%s, %s: opens without an instrument, passes, and says in the word and in the finding that it went by feel', (id, ruleSet) => {
    const { plan, opened, state } = run(id, ruleSet, 'none');
    expect(opened.instruments).toEqual({});
    expect(channelsUsed(plan.procedure, plan.ruleSet)).toEqual([]);
    const { verdict, findings } = judge(plan, state);
    expect(verdict).toBe('pass');
    expect(verdictWord(plan, verdict)).toBe(`${plan.procedure.verdictWords.pass}, by feel`);
    expect(verdictWord(plan, 'fail')).toBe(plan.procedure.verdictWords.fail);
    const said = findings.flatMap((f) => f.reasons).filter((r) => r.code === 'byFeel');
    expect(said).toHaveLength(1);
    expect(said.map(reasonInWords)[0]).toBe(
      `By feel, without a gauge. It finds ${plan.ruleSet.byFeel?.finds ?? ''}; it cannot find ${plan.ruleSet.byFeel?.misses ?? ''}`,
    );
    expect(findings.map(findingInWords).join()).not.toContain('not measured');
  });

  it.each(felt)('%s, %s: finds what a hand can, and the table says what it cannot', (id, ruleSet) => {
    for (const [fault, verdict] of Object.entries(truthOf(id, ruleSet))) {
      const { plan, state } = run(id, ruleSet, fault);
      expect(judge(plan, state).verdict, fault).toBe(verdict);
    }
  });

  it('keeps its ten seconds: a yes before them is refused', () => {
    const { plan, state, events } = run('anaes.mapleson-a', 'by-feel', 'none');
    const attempt = state.attempts['feel']?.[0];
    const answer = events.find((e) => e.kind === 'answered' && e.item === 'bag-taut');
    const filled = events.find((e) => e.kind === 'marked' && e.mark === 'fill-by-hand');
    expect((answer?.at ?? 0) - (filled?.at ?? 0)).toBeGreaterThanOrEqual(10_000);
    expect(attempt && judge(plan, { ...state, attempts: { ...state.attempts, feel: [{ ...attempt, answers: Object.fromEntries(Object.entries(attempt.answers).map(([k, a]) => [k, { ...a, at: (filled?.at ?? 0) + 9999 }])) }] } }).verdict).toBe('void'); // prettier-ignore
  });

  it('is not chosen by itself, and the gauge’s school asks nothing of a hand', () => {
    for (const [id, ruleSet] of felt) {
      const document = procedureById(id) as Procedure;
      expect(document.ruleSets.find((r) => r.id === ruleSet)?.suits).toBeUndefined();
      expect(checkProcedure(document)).toEqual([]);
      const { plan } = run(id, 'general', 'none');
      expect(JSON.stringify(plan.stages)).not.toContain('"feels"');
    }
  });
});
