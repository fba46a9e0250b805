import { describe, expect, it } from 'vitest';
import { perform, practiceRun } from '../../src/practice';
import { judge, type RunResult } from '../../src/run';
import { valueAt } from '../../src/fit';

describe('the practised hand', () => {
  it('types each reading where it is told to, and comes to the same', () => {
    const { plan, state, events } = practiceRun('ba.high-pressure', 'bar-10', 'breathing-set', 'none', { readings: 'typed' });
    expect(events.some((e) => e.kind === 'reading')).toBe(true);
    expect(events.some((e) => e.kind === 'samples')).toBe(false);
    const typed = judge(plan, state);
    const streamed = practiceRun('ba.high-pressure', 'bar-10', 'breathing-set', 'none');
    const sent = judge(streamed.plan, streamed.state);
    expect([typed.verdict, sent.verdict]).toEqual(['pass', 'pass']);
    // What was typed is what the gauge sent: stage by stage the same is found, to the gauge's step.
    const told = (r: RunResult) => r.findings.map((f) => [f.stage, f.channel, f.limit?.id, f.verdict]);
    expect(told(typed)).toEqual(told(sent));
    const loss = (r: RunResult): number => r.findings.find((f) => f.limit?.of === 'loss')?.observed?.value ?? Number.NaN;
    expect(Math.abs(loss(typed) - loss(sent))).toBeLessThanOrEqual(10);
  });
  it('breaks a hold off with its reason: that is no result', () => {
    const { plan, state } = practiceRun('ba.high-pressure', 'bar-10', 'breathing-set', 'none', {
      breakOff: { stage: 'hold', reason: 'called away' },
      name: (i) => `x${i}`,
    });
    expect(judge(plan, state).verdict).toBe('void');
    expect(state.attempts['hold']?.[0]?.endReason).toBe('called away');
  });
  it('answers as it is told, and leaves a run that may not go on', () => {
    const { plan, state } = practiceRun('cyl.visual', 'us-metal', 'article', 'none', { answers: { label: { answer: 'no', reason: 'none left' } }, seed: 9 });
    expect(state.sealed).toBe(false);
    expect(state.abandoned).toBe('nothing more is allowed');
    expect(judge(plan, state).verdict).toBe('void');
  });
  it('refuses a procedure, a rig or a rule set that is not there', () => {
    expect(() => practiceRun('kite.flight', 'any', 'suit', 'none')).toThrow(RangeError);
    expect(() => practiceRun('cyl.visual', 'nobody', 'article', 'none')).toThrow(RangeError);
    expect(() => practiceRun('cyl.visual', 'us-metal', 'kite', 'none')).toThrow(RangeError);
    const { plan, opened } = practiceRun('cyl.visual', 'us-metal', 'article', 'none', { startedAt: '2026-11-25T09:00:00.000Z', digest: 'd'.repeat(64) });
    const practice = {
      plan: { ...plan, digest: 'other' },
      opened,
      rig: 'article',
      fault: 'none',
      sensors: {},
      inputs: {},
      seed: 1,
      readings: 'samples',
      name: (i: number) => `e${i}`,
    } as const;
    expect(() => perform(practice)).toThrow('may not be opened');
  });
  it('a value that is not there is a mistake', () => expect(() => valueAt([1], 1)).toThrow(RangeError));
});
