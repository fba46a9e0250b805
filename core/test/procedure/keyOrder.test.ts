import { describe, expect, it } from 'vitest';
import { practiceRun, rigFor } from '../../src/practice';
import { catalogue, checkProcedure, mainRole, type Procedure } from '../../src/procedure';
import { emptyRun, fold, judge, next, planOfRun } from '../../src/run';
import { inTurn } from '../testing/turn';

/** A store of documents keeps what they say, and not the order in which names stand: PostgreSQL's `jsonb` puts shorter names first, then by their bytes. */
function stored<T>(part: T): T {
  if (Array.isArray(part)) return part.map((p: unknown) => stored(p)) as T;
  if (typeof part !== 'object' || part === null) return part;
  const byName = ([a]: readonly [string, unknown], [b]: readonly [string, unknown]): number => a.length - b.length || (a < b ? -1 : 1);
  return Object.fromEntries(
    Object.entries(part)
      .sort(byName)
      .map(([k, v]) => [k, stored(v)] as const),
  ) as T;
}

describe('a document whose names come back in another order', () => {
  it.each(catalogue.map((p) => [p.id, p] as const))('%s is as sound, and of the same thing', (_id, p) => {
    expect(checkProcedure(stored(p))).toEqual([]);
    expect(mainRole(stored(p))).toBe(mainRole(p));
  });

  const cases = catalogue.flatMap((p) => p.ruleSets.map((r) => [p, r.id] as const)).map(([p, r]) => [p.id, r, p] as const);
  it.each([...inTurn(cases, 6)])('%s, %s: asks for the same things in the same order, and finds the same', (id, ruleSet, p: Procedure) => {
    const { plan, opened, events } = practiceRun(id, ruleSet, rigFor(id) ?? '', 'none');
    const made = planOfRun(stored(p), opened);
    if (!made.ok) throw new Error(JSON.stringify(made.refusal));
    let state = emptyRun;
    const asks = (of: typeof plan): unknown => {
      const n = next(of, state);
      return {
        kind: n.kind,
        step: 'step' in n ? n.step.id : undefined,
        item: 'item' in n ? n.item.id : undefined,
        stage: 'stage' in n ? n.stage.id : undefined,
      };
    };
    for (const e of events) {
      state = fold(state, e);
      if (e.kind !== 'samples' && e.kind !== 'reading') expect(asks(made.plan), `after ${e.kind} at ${String(e.at)}`).toEqual(asks(plan));
    }
    expect(judge(made.plan, state)).toEqual(judge(plan, state));
  });
});
