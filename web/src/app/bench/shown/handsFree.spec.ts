import { describe, expect, it } from 'vitest';
import { emptyRun, fold, type RunState } from '@grellin/core';
import { practiceRun } from '@grellin/core/practice';
import { benchView } from '../ask/benchView';
import { spokenClock, spokenNext } from './handsFree';

describe('what is said aloud', () => {
  it('of a clock is each of its marks once, when it is passed, however coarse the steps are', () => {
    expect([spokenClock(121, 120), spokenClock(61, 59.4), spokenClock(31, 30), spokenClock(10.2, 9.9)]).toEqual(['2 minutes left', '1 minute left', '30 seconds left', '10 seconds left']); // prettier-ignore
    expect([spokenClock(120, 119), spokenClock(59, 58), spokenClock(5, 0)]).toEqual([null, null, null]);
    // A clock that was shut away jumps: the mark that lies nearest to what is left is said.
    expect(spokenClock(200, 8)).toBe('10 seconds left');
  });
  it('of the work is what comes next: no line of a whole run is empty, and none is said for every reading', () => {
    const { plan, events } = practiceRun('suit.inflation', 'in-h2o-4', 'suit', 'none');
    let state: RunState = emptyRun;
    const said: string[] = [];
    for (const e of events) {
      state = fold(state, e);
      const words = spokenNext(benchView(plan, state, state.at));
      expect(words.length).toBeGreaterThan(3);
      if (said.at(-1) !== words) said.push(words);
    }
    expect(said).toContain('Hands off until the clock stops');
    expect(said.length).toBeLessThan(60);
  });
});
