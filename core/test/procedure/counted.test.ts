import { describe, expect, it } from 'vitest';
import { practiceRun, rigFor } from '../../src/practice';
import { catalogue, type Plan, type Stage } from '../../src/procedure';
import { emptyRun, fold, judge, may, type EventBody, type RunEvent, type RunState } from '../../src/run';
import { practised } from '../testing/attempt';

/** What is counted has been counted: each time is an answer of its own, that takes its time and that its gauge bears out. Common practice. */
const low = practised('brakes.whole', 'build-from-low');
const six = low.stages.filter((s) => s.id === 'six' || s.id === 'six-again');
const itemsOf = (stage: Stage | undefined): readonly { readonly id: string; readonly text: string }[] =>
  stage?.method.kind === 'check' ? stage.method.items : [];

describe('an action that is counted', () => {
  it('stands in the plan once for each time', () =>
    expect(six.flatMap(itemsOf).map((i) => [i.id, i.text])).toEqual([
      ...[1, 2, 3].map((k) => [`six-made.${String(k)}`, `A full application, so that the adjusters work; never below 90 psi (${String(k)} of 3)`]),
      ...[1, 2, 3].map((k) => [`six-made-again.${String(k)}`, `A full application; never below 90 psi (${String(k)} of 3)`]),
    ]));

  it('is never only said: no step, look or title of the catalogue names a number of times without counting them', () => {
    const said = /\b(twice|thrice|(two|three|four|five|six|eight|ten|\d+) (full )?(times|applications|strokes|breaths|pumps))\b/i;
    const found = catalogue.flatMap((p) =>
      p.stages.flatMap((s) => {
        const items = s.method.kind === 'check' ? s.method.items : [];
        const counts = items.some((i) => i.times !== undefined);
        const words = [...items.filter((i) => i.times === undefined).map((i) => i.text), ...s.steps.map((x) => x.text), ...(counts ? [] : [s.title])];
        return words.filter((w) => said.test(w)).map((w) => `${p.id} ${s.id}: ${w}`);
      }),
    );
    expect(found).toEqual([]);
  });

  /** The run when the first of the six is to be made, its gauge on a rig or read by a person. */
  const before = (readings: 'samples' | 'typed'): { readonly plan: Plan; readonly state: RunState } => {
    const { events, plan } = practiceRun('brakes.whole', 'build-from-low', rigFor('brakes.whole') ?? '', 'none', { readings });
    const began = events.findIndex((e) => e.kind === 'marked' && e.mark === 'six-charge');
    return { plan, state: events.slice(0, began + 1).reduce((state, e) => fold(state, e), emptyRun) };
  };
  const say = ({ plan, state }: { readonly plan: Plan; readonly state: RunState }, at: number, body: EventBody, source = 'hand') => {
    const event: RunEvent = { id: `x${String(at)}${source}`, source, n: (state.sources[source]?.n ?? 0) + 1, at, ...body };
    const refusal = may(plan, state, event);
    return { refusal: refusal?.code ?? null, then: { plan, state: refusal ? state : fold(state, event) } };
  };
  const yes = (k: number): EventBody => ({ kind: 'answered', item: `six-made.${String(k)}`, answer: 'yes' });
  const stands = (psi: number): EventBody => ({ kind: 'reading', channel: 'primary', quantity: { value: psi, unit: '[psi]' } });

  it('takes its time each time: a held key or six presses in a second count nothing', () => {
    const run = before('typed');
    const t = run.state.at;
    const read = say(run, t + 2500, stands(110)).then;
    expect(say(read, t + 1900, yes(1)).refusal).not.toBeNull();
    const first = say(read, t + 2600, yes(1));
    expect(first.refusal).toBeNull();
    expect(say(first.then, t + 3000, yes(2)).refusal).not.toBeNull();
    expect(say(first.then, t + 3000, yes(3)).refusal).not.toBeNull();
  });

  it('is read anew each time: a needle read before the first says nothing of the second, and below 90 none counts', () => {
    const run = before('typed');
    const t = run.state.at;
    const first = say(say(run, t + 2500, stands(110)).then, t + 2600, yes(1)).then;
    expect(say(first, t + 5000, yes(2)).refusal).not.toBeNull();
    const sunk = say(first, t + 5000, stands(88)).then;
    expect(say(sunk, t + 5100, yes(2)).refusal).not.toBeNull();
    const charged = say(sunk, t + 5200, stands(95)).then;
    expect(say(charged, t + 5300, yes(2)).refusal).toBeNull();
  });

  it('is not made by five of six', () => {
    const { events, plan } = practiceRun('brakes.whole', 'build-from-low', rigFor('brakes.whole') ?? '', 'none');
    const short = events.filter((e) => !(e.kind === 'answered' && e.item === 'six-made-again.3')).reduce((state, e) => fold(state, e), emptyRun);
    expect(judge(plan, short).findings.find((f) => f.stage === 'six-again')?.verdict).toBe('void');
  });
});
