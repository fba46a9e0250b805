import { describe, expect, it } from 'vitest';
import { catalogue, type Plan } from '../../src/procedure';
import { practiceRun, type PracticeRun } from '../../src/practice';
import { emptyRun, foldAll, judge, may, next, type EventBody, type RunEvent, type RunState } from '../../src/run';

const jacket = (answers: NonNullable<Parameters<typeof practiceRun>[4]>['answers'] = {}, fault = 'wall has yielded'): PracticeRun =>
  practiceRun('cyl.water-jacket', 'us-metal', 'jacket', fault, { answers });
const said = (run: PracticeRun): string[] =>
  run.events.flatMap((e) => (e.kind === 'answered' && e.item.startsWith('condemn-') ? [`${e.item} ${e.answer}`] : []));

/** A run up to where it is first asked whether what condemns is so. */
function asked(run: PracticeRun): { readonly plan: Plan; readonly state: RunState; readonly say: (body: EventBody) => RunEvent } {
  const end = run.events.findIndex((e) => e.kind === 'answered' && e.item.startsWith('condemn-'));
  const before = run.events.slice(0, end);
  const state = foldAll(before, emptyRun);
  const source = run.events[end]?.source ?? '';
  return { plan: run.plan, state, say: (body) => ({ id: 'x', source, n: (state.sources[source]?.n ?? 0) + 1, at: state.at, ...body }) };
}

describe('what condemns is for ever, so before the end of its stage it', () => {
  it('is confirmed: the rig proved again, the entry read back', () => {
    const run = jacket();
    expect(said(run)).toEqual(['condemn-rig yes', 'condemn-read-back yes']);
    expect(judge(run.plan, run.state)).toMatchObject({ verdict: 'fail', condemns: true, blocks: true });
  });

  it.each(['condemn-rig', 'condemn-read-back'])('is spoilt by a no to %s: it condemns nothing, and releases nothing', (item) => {
    const run = jacket({ [item]: { answer: 'no', reason: 'a fitting weeps' } });
    const result = judge(run.plan, run.state);
    expect(result).toMatchObject({ condemns: false, holds: true });
    expect(result.verdict).not.toBe('pass');
    const spoilt = [...result.findings, ...result.earlier].find((f) => f.reasons.some((r) => r.code === 'notConfirmed'));
    expect(spoilt?.verdict).toBe('void');
  });

  it('is asked of what was looked at too, and nothing is asked of a rig there', () => {
    const run = jacket({}, 'crack inside');
    expect(said(run)).toEqual(['condemn-read-back yes']);
    expect(judge(run.plan, run.state).condemns).toBe(true);
  });

  it('is asked of nothing that passes', () => {
    expect(said(jacket({}, 'none'))).toEqual([]);
  });

  it('is not confirmed beforehand, nor refused without saying why', () => {
    const { plan, state, say } = asked(jacket());
    expect(next(plan, state)).toMatchObject({ kind: 'answer', item: { id: 'condemn-rig' } });
    expect(may(plan, state, say({ kind: 'answered', item: 'condemn-rig', answer: 'no' }))?.code).toBe('item.reasonMissing');
    const tight = jacket({}, 'none');
    const open = tight.events.findIndex((e) => e.kind === 'began' && e.stage === 'expand') + 1;
    const early = foldAll(tight.events.slice(0, open), emptyRun);
    const at = tight.events[open - 1];
    const yes: RunEvent = { id: 'y', source: at?.source ?? '', n: (at?.n ?? 0) + 1, at: at?.at ?? 0, kind: 'answered', item: 'condemn-rig', answer: 'yes' };
    expect(may(tight.plan, early, yes)?.code).toBe('item.notHere');
  });

  it('stays condemned where somebody leaves instead of answering', () => {
    const { plan, state, say } = asked(jacket());
    const stage = next(plan, state);
    if (stage.kind !== 'answer') throw new Error('nothing is asked');
    const away: EventBody[] = [
      { kind: 'ended', stage: stage.stage.id, attempt: stage.attempt, reason: 'tea' },
      { kind: 'abandoned', reason: 'tea' },
    ];
    for (const body of away) {
      const left = foldAll([say(body)], state);
      expect(judge(plan, left)).toMatchObject({ condemns: true, holds: true });
    }
  });

  it('cannot be asked under the name of an item of its own', () => {
    const ids = catalogue.flatMap((p) => p.stages.flatMap((s) => (s.method.kind === 'check' ? s.method.items.map((i) => i.id) : [])));
    expect(ids.filter((id) => /^(condemn|never)-/.test(id))).toEqual([]);
  });
});
