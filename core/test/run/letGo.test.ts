import { describe, expect, it } from 'vitest';
import { fold, foldAll, judge, next, readingsOf, unclaimedLetGo, type RunEvent, type RunState } from '../../src';
import { practiceRun } from '../../src/practice';

const run = practiceRun('valve.relief', 'asme', 'relief-bench', 'none');
const channel = Object.keys(run.plan.procedure.channels)[0] ?? '';
const whole = foldAll(run.events);

const streamed = (from: RunState, minutes: number): RunState => {
  let state = from;
  for (let i = 0; i < minutes * 60; i += 1) {
    const e: RunEvent = { id: `idle ${i}`, source: 'idle', n: i + 1, at: from.at + i * 1000, kind: 'samples', channel, everyMs: 5, unit: 'psi', values: new Array<number>(200).fill(i) }; // prettier-ignore
    state = fold(state, e);
  }
  return state;
};

describe('letting go of what nobody claims', () => {
  it('keeps all that a stage was judged by: findings and what comes next stay the same', () => {
    const idle = streamed(whole, 20);
    const trimmed = unclaimedLetGo(idle, idle.at - 60_000);
    expect(judge(run.plan, trimmed)).toEqual(judge(run.plan, whole));
    expect(next(run.plan, trimmed)).toEqual(next(run.plan, idle));
    for (const attempt of Object.values(whole.attempts).flat()) {
      const claimed = (s: RunState): unknown => [...readingsOf(s, channel).between(attempt.beganAt, attempt.endedAt ?? 0)];
      expect(claimed(trimmed)).toEqual(claimed(idle));
    }
  });

  it('an instrument left streaming for twenty minutes leaves one', () => {
    const idle = streamed(foldAll(run.events.slice(0, 1)), 20);
    const trimmed = unclaimedLetGo(idle, idle.at - 60_000);
    expect(readingsOf(idle, channel).length).toBe(240_000);
    expect(readingsOf(trimmed, channel).length).toBeLessThanOrEqual(61 * 200);
    expect(readingsOf(trimmed, channel).at(-1)).toEqual(readingsOf(idle, channel).at(-1));
    expect(unclaimedLetGo(trimmed, idle.at - 60_000)).toBe(trimmed);
  });

  it('keeps the newest reading, however old: the needle is still shown', () => {
    const idle = streamed(foldAll(run.events.slice(0, 1)), 1);
    expect(readingsOf(unclaimedLetGo(idle, idle.at + 9e9), channel).at(-1)).toEqual(readingsOf(idle, channel).at(-1));
  });
});
