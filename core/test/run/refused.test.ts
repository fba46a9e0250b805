import { describe, expect, it } from 'vitest';
import { emptyRun, fold, may, next, refusalInWords, routeOf, type EventBody, type Plan, type RunEvent, type RunState } from '../../src';
import { itemsOf } from '../../src/procedure/method/uses';
import { sample } from '../testing/samples';

/** Everything that somebody who means no good, or who is in a hurry, could say at a moment. */
function wrongThings(plan: Plan, state: RunState, past: readonly RunEvent[]): readonly EventBody[] {
  const channels = Object.keys(plan.procedure.channels);
  const readings = [...channels, 'nothing'].flatMap((channel): EventBody[] => [
    { kind: 'reading', channel, quantity: { value: 1, unit: 'kg' } },
    { kind: 'reading', channel, quantity: { value: 1e6, unit: plan.procedure.channels[channel]?.unit ?? 'Pa' } },
    { kind: 'reading', channel, quantity: { value: -1e6, unit: plan.procedure.channels[channel]?.unit ?? 'Pa' } },
    { kind: 'samples', channel, unit: plan.procedure.channels[channel]?.unit ?? 'Pa', everyMs: 100, values: [] },
    { kind: 'samples', channel, unit: plan.procedure.channels[channel]?.unit ?? 'Pa', everyMs: 0, values: [1] },
    { kind: 'samples', channel, unit: plan.procedure.channels[channel]?.unit ?? 'Pa', everyMs: 100, values: [1, Number.NaN] },
    { kind: 'samples', channel, unit: plan.procedure.channels[channel]?.unit ?? 'Pa', everyMs: 100, values: [1] },
  ]);
  const stages = plan.stages.flatMap((s): EventBody[] => [
    ...[1, 2, 3, 4, 99].flatMap((attempt): EventBody[] => [
      { kind: 'began', stage: s.id, attempt },
      { kind: 'began', stage: s.id, attempt, reason: 'again' },
      { kind: 'ended', stage: s.id, attempt },
      { kind: 'ended', stage: s.id, attempt, reason: 'broken off' },
    ]),
    ...s.steps.map((step): EventBody => ({ kind: 'marked', mark: step.id })),
    ...itemsOf(s.method).flatMap((i): EventBody[] => [
      { kind: 'answered', item: i.id, answer: 'yes' },
      { kind: 'answered', item: i.id, answer: 'notApplicable' },
      { kind: 'answered', item: i.id, answer: 'notApplicable', reason: 'not fitted' },
    ]),
    ...routeOf(s.method).map((r): EventBody => ({ kind: 'spotted', spot: r.id, grade: 'none' })),
  ]);
  const withdrawals = [past.at(-1), past.find((e) => e.kind === 'samples'), past.find((e) => e.kind === 'answered'), past[0]].map((e): EventBody => ({
    kind: 'withdrawn',
    event: e?.id ?? 'nothing',
    reason: 'slip',
  }));
  const opening = state.opened ?? past.find((e) => e.kind === 'opened');
  return [
    ...readings,
    ...stages,
    ...withdrawals,
    ...(opening?.kind === 'opened'
      ? [opening, { ...opening, ruleSet: 'another' }, { ...opening, procedure: 'f'.repeat(64) }, { ...opening, instruments: {} }]
      : []),
    { kind: 'began', stage: 'nothing', attempt: 1 },
    { kind: 'ended', stage: 'nothing', attempt: 1 },
    { kind: 'marked', mark: 'nothing' },
    { kind: 'marked', mark: 'start' },
    { kind: 'answered', item: 'nothing', answer: 'yes' },
    { kind: 'spotted', spot: 'nothing', grade: 'none' },
    { kind: 'withdrawn', event: 'nothing', reason: 'slip' },
    { kind: 'disturbed', note: 'touched' },
    { kind: 'synced', offsetMs: 0, halfTripMs: 5 },
    { kind: 'gap', wallMs: 0, tickMs: 0 },
    { kind: 'amended', note: 'a word more' },
    { kind: 'abandoned', reason: 'rain' },
    { kind: 'sealed' },
    {
      kind: 'recorded',
      record: 'GR-1',
      verdict: 'pass',
      blocks: false,
      counts: true,
      item: 'x',
      tag: 'x',
      findings: '0'.repeat(64),
      edition: '1',
      methods: [],
    },
  ];
}

/** What is said, in a word or two. */
const inShort = (body: EventBody): string =>
  Object.entries(body)
    .filter(([, v]) => typeof v !== 'object')
    .map(([, v]) => String(v))
    .join(' ');

/** Each thing that is said at each moment of a run, and what it is answered: nothing is let in that was not, and every refusal says why, with its values. */
describe('what is refused at every moment of a run', () => {
  it.each(['anaes-circle-pass.json', 'ba-soap-survey-fail.json', 'cyl-water-jacket-pass.json', 'suit-inflation-fail.json', 'valve-relief-pass.json'])(
    '%s',
    (name) => {
      const { plan, events } = sample(name);
      const answers: string[] = [];
      let state = emptyRun;
      const moments = new Set<string>();
      for (const [i, event] of [...events, null].entries()) {
        const come = next(plan, state);
        // A long hold is one moment: what is said in it is answered alike.
        const moment = `${come.kind} ${'stage' in come ? come.stage.id : ''} ${'step' in come ? come.step.id : ''} ${'item' in come ? come.item.id : ''}`;
        if (!moments.has(moment)) {
          moments.add(moment);
          const past = events.slice(0, i);
          const counts = { n: 1, at: state.at };
          const accepted: string[] = [];
          for (const body of wrongThings(plan, state, past)) {
            const refusal = may(plan, state, { ...body, id: `x${String(i)}`, source: 'liar', ...counts });
            if (refusal === null) accepted.push(inShort(body));
            else answers.push(`${refusal.code} ${JSON.stringify(refusal.values)} ${refusalInWords(refusal)}`);
          }
          for (const wrong of [
            { n: 2, at: state.at },
            { n: 0, at: state.at },
          ]) {
            const refusal = may(plan, state, { kind: 'disturbed', note: 'x', id: 'y', source: 'liar', ...wrong });
            if (refusal) answers.push(`${refusal.code} ${JSON.stringify(refusal.values)}`);
          }
          const known = Object.entries(state.sources)[0];
          if (known) {
            const refusal = may(plan, state, { kind: 'disturbed', note: 'x', id: 'y', source: known[0], n: known[1].n + 1, at: known[1].at - 1 });
            if (refusal) answers.push(`${refusal.code} ${JSON.stringify(refusal.values)}`);
          }
          answers.push(`${moment}: lets in ${accepted.join(', ')}`);
        }
        if (event) state = fold(state, event);
      }
      const codes = new Set(answers.map((a) => a.split(' ')[0]).filter((code) => code?.includes('.')));
      // A hand that is always refused for the same reason has tried nothing.
      expect(codes.size).toBeGreaterThan(15);
      expect([...new Set(answers)].sort()).toMatchSnapshot();
    },
  );
});
