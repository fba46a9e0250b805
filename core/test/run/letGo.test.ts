import { describe, expect, it } from 'vitest';
import { fold, foldAll, judge, next, readingsOf, unclaimedLetGo, type EventOf, type RunEvent, type RunState } from '../../src';
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

describe('what is let go of, by its times', () => {
  const at = (ms: number, n: number): EventOf<'samples'> => ({ id: `s${String(n)}`, source: 'idle', n, at: ms, kind: 'samples', channel: 'suit', everyMs: 100, unit: 'mbar', values: [1, 2] }); // prettier-ignore
  const began: RunEvent = { id: 'b', source: 'hand', n: 1, at: 1000, kind: 'began', stage: 'hold', attempt: 1 };
  const ended: RunEvent = { id: 'e', source: 'hand', n: 2, at: 2000, kind: 'ended', stage: 'hold', attempt: 1 };
  // Each chunk lasts from its time to 100 ms after it.
  const times = [0, 899, 900, 1500, 2000, 2001, 3000, 9000];
  const chunks = times.map((ms, i) => at(ms, i + 1));
  const left = (state: RunState): number[] => [
    ...new Set([...readingsOf(state, 'suit')].map((r) => (r.at % 100 === 0 || r.at % 100 === 1 || r.at % 100 === 99 ? r.at : -1))),
  ];

  it('keeps what an attempt claims to the millisecond, what is new, and the newest', () => {
    const state = foldAll([...chunks, began, ended]);
    expect(left(unclaimedLetGo(state, 5000))).toEqual([900, 1000, 1500, 1600, 2000, 2100, 9000, 9100]);
    expect(left(unclaimedLetGo(state, 3100))).toEqual([900, 1000, 1500, 1600, 2000, 2100, 3000, 3100, 9000, 9100]);
    expect(left(unclaimedLetGo(state, 3101))).toEqual([900, 1000, 1500, 1600, 2000, 2100, 9000, 9100]);
  });

  it('keeps all from the beginning of an attempt that is open', () => {
    expect(left(unclaimedLetGo(foldAll([...chunks, began]), 20_000))).toEqual([900, 1000, 1500, 1600, 2000, 2001, 2100, 2101, 3000, 3100, 9000, 9100]);
  });

  it('is the same state where there is nothing to let go of, and only one channel’s where only one has', () => {
    const state = foldAll([...chunks, began, ended]);
    expect(unclaimedLetGo(state, 0)).toBe(state);
    const two = fold(state, { ...at(9000, 9), id: 'other', channel: 'flow', source: 'second', n: 1 });
    const trimmed = unclaimedLetGo(two, 5000);
    expect(trimmed.chunks['flow']).toBe(two.chunks['flow']);
    expect(trimmed.chunks['suit']).not.toBe(two.chunks['suit']);
  });
});
