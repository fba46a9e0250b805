import { describe, expect, it } from 'vitest';
import { perform, practiceOf, practiceRun, rigFor, truthOf } from '../../src/practice';
import { catalogue } from '../../src/procedure';
import { beginsByItself, emptyRun, fold, inRounds, next, planOfRun, provedBy, type RunEvent, type RunState } from '../../src/run';
import type { Plan } from '../../src/procedure';

/** What a person presses for an item of a round besides its answers, steps and readings: beginning a stage that does not begin by itself, and the seal. */
const MOST = 3;

function beyond(plan: Plan, events: readonly RunEvent[]): { readonly presses: number; readonly needed: number } {
  let state: RunState = emptyRun;
  let presses = 0;
  let needed = 0;
  for (const e of events) {
    if (e.kind === 'began' && !beginsByItself(plan, state, next(plan, state))) presses += 1;
    if (e.kind === 'sealed') presses += 1;
    if (e.kind === 'answered' || e.kind === 'spotted' || e.kind === 'marked' || e.kind === 'reading') needed += 1;
    state = fold(state, e);
  }
  return { presses, needed };
}

const rules = catalogue.flatMap((p) => p.ruleSets.filter((r) => inRounds(p, r)).map((r) => ({ p, r })));

describe('an item of a round', () => {
  it.each(rules.map(({ p, r }) => [p.id, r.id, p] as const))('%s, %s: takes at most three presses more than its rules ask', (id, ruleSet, document) => {
    const rig = rigFor(id) ?? '';
    // An alarm for a third is what its school wants: what is tight by these rules.
    const sound = Object.entries(truthOf(id, ruleSet)).find(([, v]) => v === 'pass')?.[0] ?? 'none';
    const first = practiceRun(id, ruleSet, rig, sound);
    // As the second of a round is done: with the rig proved by the first.
    const stages = provedBy(first.plan, first.state);
    const practice = practiceOf(id, ruleSet, rig, sound);
    const proof = stages && { run: 'r', record: 'GR-1', head: '0'.repeat(64), at: '2026-12-01T08:00:00Z', item: 'A', stages };
    const opened = { ...practice.opened, ...(proof ? { proof } : {}) };
    const made = planOfRun(document, opened);
    if (!made.ok) throw new Error(made.refusal.code);
    const { events } = perform({ ...practice, plan: made.plan, opened });
    const { presses, needed } = beyond(made.plan, events);
    process.stdout.write(`${id} ${ruleSet}: ${String(presses)} presses beside ${String(needed)} that its rules ask\n`);
    expect(presses).toBeLessThanOrEqual(MOST);
    expect(presses).toBeGreaterThanOrEqual(2);
  });
  it('is not put to its first test without a press, nor led past what did not pass', () => {
    const run = practiceRun('suit.inflation', 'mbar-16.5', 'suit', 'zip end');
    let state: RunState = emptyRun;
    const begins: Record<string, boolean> = {};
    for (const e of run.events) {
      if (e.kind === 'began') begins[e.stage] = beginsByItself(run.plan, state, next(run.plan, state));
      state = fold(state, e);
    }
    expect(begins).toMatchObject({ gather: true, look: true, inflate: false, aftercare: false });
    expect(begins['find']).toBe(false);
  });
});
