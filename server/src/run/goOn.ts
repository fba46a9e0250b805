import { begunInTest, fold, judge, lastMoment, may, refusalInWords, type RunEvent, type RunResult, type RunState } from '@grellin/core';
import { v7 } from 'uuid';
import { Coded } from '../base';
import { type RunEntity, type RunHistory } from './history';
import { link, type Head, type Linked } from './chain';
import type { RunClock } from './clock';
import type { AppendRequest } from './request';
import type { Standing } from './asked';

/** A tablet's clock may run this far ahead of the server's. */
const AHEAD_MS = 5000;

/** A minute that was not waited out is no result: nobody's events may be ahead of the clock that counts. */
function refuseAhead(entity: RunEntity, state: RunState, event: RunEvent, clockMs: number, instrument: boolean): void {
  // An instrument's own clock is what paces the run; samples out of a person's file are held to the clock like anything else.
  if (event.kind === 'samples' && instrument) return;
  if (event.kind === 'samples' && entity.paced) throw new Coded('source.reserved', 'An instrument sends this run’s readings: a file cannot.');
  const last = lastMoment([event]);
  const limit = entity.paced ? state.at : clockMs + AHEAD_MS;
  if (last > limit) throw new Coded('event.ahead', 'This event is ahead of the run’s clock.', { at: String(last), clock: String(limit) });
}

/** What is to be stored, and what the run becomes by it. */
export interface Continued {
  readonly linked: readonly Linked[];
  readonly state: RunState;
  readonly head: Head;
  readonly clockMs: number;
  readonly closes: boolean;
  /** Whether its items have been put to their test. */
  readonly begun: boolean;
  /** The whole run's result, where something ended. */
  readonly judged: RunResult | null;
}

/**
 * Goes on with a run from where it stands. Pure but for the ids of what it adds itself.
 * @throws Coded `run.refused`, `event.ahead`
 */
export function goOn(
  entity: RunEntity,
  { plan, state: from }: RunHistory,
  request: AppendRequest,
  fresh: readonly RunEvent[],
  sender: Standing,
  clock: RunClock,
): Continued {
  const { lease, late } = sender;
  let state = from;
  let head: Head = { run: entity.id, seq: entity.seq, hash: entity.head };
  const linked: Linked[] = [];
  const put = (event: RunEvent, under: number, isLate: boolean): void => {
    const next = link(head, event, request.by, under, isLate, request.now);
    linked.push(next);
    head = next;
  };
  if (clock.stepMs !== 0 && !entity.paced && !entity.closed && !late) {
    // Which of the clocks was right is not known: a hold across it is no measurement.
    const step: RunEvent = {
      id: v7(),
      source: 'server',
      n: (state.sources['server']?.n ?? 0) + 1,
      // After everything that was said before the step: a hold that had just begun has it within itself.
      at: Math.max(state.at, entity.clockMs) + 1,
      kind: 'gap',
      wallMs: Math.max(0, clock.stepMs),
      tickMs: Math.max(0, -clock.stepMs),
    };
    state = fold(state, step);
    put(step, entity.lease, false);
  }
  for (const event of fresh) {
    if (!late) {
      refuseAhead(entity, state, event, clock.atMs, request.person === null);
      const refusal = may(plan, state, event);
      if (refusal) throw new Coded('run.refused', refusalInWords(refusal), { ...refusal.values, refusal: refusal.code, event: event.id });
      state = fold(state, event);
    }
    put(event, lease, late);
  }
  const ends = !late && fresh.some((e) => e.kind === 'ended' || e.kind === 'sealed' || e.kind === 'abandoned');
  const closes = state.sealed || state.abandoned !== null;
  return {
    linked,
    state,
    head,
    clockMs: Math.max(entity.clockMs, clock.atMs),
    closes,
    begun: entity.begun || begunInTest(plan, state),
    judged: ends ? judge(plan, state) : null,
  };
}
