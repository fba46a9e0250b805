import { NEVER_COMES, START } from '../method';
import { originOf, type Plan } from '../procedure';
import { LINE_MS } from '../rig';
import { judge, next, openAttempt, items, type EventBody, type Next, type RunEvent, type RunResult, type RunState } from '../run';
import { Hand, type Practice } from './perform';

/** A source of chance: 0 to below 1. */
export type Chance = () => number;

/**
 * Numbers that look like chance and are the same for the same seed (mulberry32).
 * @param seed any whole number
 * @example chanceOf(1)() // 0.6270739406
 */
export function chanceOf(seed: number): Chance {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** What a lying hand came to. */
export interface Lie {
  readonly plan: Plan;
  readonly events: readonly RunEvent[];
  readonly state: RunState;
  readonly result: RunResult;
}

/** How it lies: how often, 0 to 1, it tries what nobody should, how often it says that a step is done which it leaves undone, and whether it types what it reads. */
export interface Lying {
  readonly mischievous: number;
  readonly lazy: number;
  readonly typed: boolean;
}

/** The ways to lean on a needle between two marks: before a start is marked, and after it. */
const leanings = [
  [-1, 1],
  [1, -1],
  [1, 1],
  [-1, -1],
] as const;

/** One that types reads each gauge as suits it, within a step of what it shows. */
function typing(p: Practice, chance: Chance): Practice {
  const [before, after] = leanings[Math.floor(chance() * leanings.length)] ?? leanings[0];
  return { ...p, readings: 'asked', lean: (_, state) => (openAttempt(state)?.marks.some((m) => m.mark === START) ? after : before) };
}

/** A liar presses as soon as it may; between presses a press alone passes. */
const PRESS_MS = 200;
/** It tires of a step after this long. */
const TIRED_MS = 4 * 60_000;
const MOST_TURNS = 400;

/** Says something as soon as it is allowed. @returns whether it ever was */
function asSoonAsAllowed(hand: Hand, body: EventBody, patience: number): boolean {
  for (let waited = 0; ; waited += LINE_MS) {
    if (hand.person(body)) return true;
    if (waited >= patience) return false;
    hand.wait(LINE_MS);
  }
}

/** Tries what nobody should: takes something back, does a stage over, calls something never coming, or breaks it off. */
function mischief(hand: Hand, plan: Plan, chance: Chance): void {
  const open = openAttempt(hand.state);
  const said = items(hand.state.history).filter((e) => ['reading', 'marked', 'answered', 'spotted'].includes(e.kind));
  const draw = chance();
  if (draw < 0.35) {
    const victim = said[Math.floor(chance() * said.length)];
    if (victim) hand.person({ kind: 'withdrawn', event: victim.id, reason: 'a slip of the finger' });
  } else if (draw < 0.6) {
    const stage = plan.stages[Math.floor(chance() * plan.stages.length)];
    const last = stage && hand.state.attempts[stage.id]?.at(-1);
    if (stage && last) hand.person({ kind: 'began', stage: stage.id, attempt: last.attempt + 1, reason: 'done again' });
  } else if (draw < 0.75) hand.person({ kind: 'marked', mark: NEVER_COMES });
  else if (draw < 0.9 && open) hand.person({ kind: 'ended', stage: open.stage, attempt: open.attempt, reason: 'enough of it' });
  else {
    const stage = plan.stages[Math.floor(chance() * plan.stages.length)];
    if (stage) hand.person({ kind: 'began', stage: stage.id, attempt: 1 });
  }
}

/** Yes to everything, at the earliest moment; the hand does the moves of a step only where it feels like it. */
function turn(hand: Hand, p: Practice, n: Exclude<Next, { kind: 'closed' }>, chance: Chance, how: Lying): boolean {
  hand.wait(PRESS_MS);
  const lazy = chance() < how.lazy;
  switch (n.kind) {
    case 'begin':
      if (!lazy) hand.hand(originOf(n.stage.id));
      return hand.person({ kind: 'began', stage: n.stage.id, attempt: n.attempt, ...(n.attempt > 1 ? { reason: 'done again' } : {}) });
    case 'answer': {
      if (asSoonAsAllowed(hand, { kind: 'answered', item: n.item.id, answer: 'yes' }, TIRED_MS)) return true;
      if (hand.person({ kind: 'answered', item: n.item.id, answer: 'notApplicable', reason: 'not fitted' })) return true;
      return hand.person({ kind: 'answered', item: n.item.id, answer: 'no', reason: 'no way round it' });
    }
    case 'spot':
      return asSoonAsAllowed(hand, { kind: 'spotted', spot: n.spot.id, grade: 'none' }, TIRED_MS);
    case 'read':
      return hand.person({ kind: 'reading', channel: n.channel, quantity: hand.typed(p.readByHand?.[n.channel] ?? n.channel) });
    case 'act':
      if (lazy && hand.person({ kind: 'marked', mark: n.step.id })) return true;
      hand.hand(n.step.id);
      return asSoonAsAllowed(hand, { kind: 'marked', mark: n.step.id }, TIRED_MS);
    case 'reach':
      hand.atWindow(n.low, n.high);
      hand.hand(n.step.id);
      return asSoonAsAllowed(hand, { kind: 'marked', mark: n.step.id }, 3 * TIRED_MS);
    case 'wait':
      if (!lazy) hand.hand(n.step.id);
      return asSoonAsAllowed(hand, { kind: 'marked', mark: n.step.id }, Math.max(0, n.until - hand.state.at) + TIRED_MS);
    case 'start':
      hand.atWindow(n.low, n.high);
      hand.hand(`${originOf(n.stage.id)}:start`);
      if (!asSoonAsAllowed(hand, { kind: 'marked', mark: 'start' }, TIRED_MS)) return false;
      if (!lazy) hand.hand('start');
      return true;
    case 'hold':
      hand.wait(Math.max(LINE_MS, n.until - hand.state.at));
      return true;
    case 'end':
      return hand.person({ kind: 'ended', stage: n.stage.id, attempt: n.attempt });
    case 'seal':
      return hand.person({ kind: 'sealed' });
  }
}

/**
 * Carries a run through as somebody would who wants it to pass whatever the item does: yes to everything, at the earliest moment, with withdrawals, repetitions and breakings-off where
 * they are allowed, and steps that are marked and not done. What its instruments show it cannot change; what it types stays within a step of it.
 * @param chance what it does besides the straight way
 * @example lie({ …, fault: 'zip end' }, chanceOf(7), { mischievous: 0.1, lazy: 0, typed: false }).result.verdict // never 'pass'
 */
export function lie(given: Practice, chance: Chance, how: Lying): Lie {
  const p = how.typed ? typing(given, chance) : given;
  const hand = new Hand(p);
  if (!hand.person({ kind: 'opened', ...p.opened })) throw new Error('the run may not be opened');
  for (let turns = 0; turns < MOST_TURNS; turns++) {
    const n = next(p.plan, hand.state);
    if (n.kind === 'closed') break;
    if (chance() < how.mischievous) mischief(hand, p.plan, chance);
    const now = next(p.plan, hand.state);
    if (now.kind === 'closed') break;
    if (turn(hand, p, now, chance, how)) continue;
    // Stuck: it tries whatever ends the stage, and at last gives the run up.
    const open = openAttempt(hand.state);
    if (hand.person({ kind: 'marked', mark: NEVER_COMES })) continue;
    if (open && hand.person({ kind: 'ended', stage: open.stage, attempt: open.attempt, reason: 'it will not go on' })) continue;
    hand.person({ kind: 'abandoned', reason: 'it will not go on' });
  }
  return { plan: p.plan, events: hand.events, state: hand.state, result: judge(p.plan, hand.state) };
}
