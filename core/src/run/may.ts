import {
  awaited,
  methodTask,
  NEVER_COMES,
  neverCame,
  neverUnmet,
  questionsOf,
  spotTooSoon,
  START,
  stepUnmet,
  yesUnmet,
  type Attempted,
  type Chunk,
} from '../method';
import { channelsOf, factsOf, mustBeFitted, itemsOf, routeOf, stepChannels, strict, type Plan, type Reason, type Stage } from '../procedure';
import { decimalIn, sameDimension, showQuantity } from '../quantity';
import { byDay } from './byNight';
import { MOST_PICTURES, type EventOf, type RunEvent } from './event';
import { findingsOf } from './judge';
import { attemptedOf, next, taskNow } from './next';
import { mendFor } from './stands';
import { openAttempt, type RunState } from './state';
import { items, type Trail } from './trail';

/** Every refusal, in one place. A code is never reused. */
export type RefusalCode =
  | 'run.notOpen'
  | 'run.alreadyOpen'
  | 'run.closed'
  | 'run.serverOnly'
  | 'run.digestDiffers'
  | 'run.ruleSetDiffers'
  | 'run.instrumentMissing'
  | 'run.instrumentTwice'
  | 'source.countWrong'
  | 'source.timeBack'
  | 'stage.unknown'
  | 'stage.notNext'
  | 'stage.failed'
  | 'stage.notOpen'
  | 'stage.reasonMissing'
  | 'attempt.wrong'
  | 'attempt.tooMany'
  | 'step.notNext'
  | 'step.unmet'
  | 'hold.notOver'
  | 'check.unanswered'
  | 'item.notHere'
  | 'spot.notNext'
  | 'item.notOptional'
  | 'item.notWatched'
  | 'item.reasonMissing'
  | 'channel.unknown'
  | 'reading.unitWrong'
  | 'reading.outOfRange'
  | 'reading.streams'
  | 'samples.malformed'
  | 'picture.twice'
  | 'picture.tooMany'
  | 'withdraw.unknown'
  | 'withdraw.notStatement'
  | 'withdraw.judged'
  | 'withdraw.stoodOn'
  | 'seal.unfinished'
  | 'seal.aftercare';

export interface Refusal {
  readonly code: RefusalCode;
  readonly values: Readonly<Record<string, string>>;
}

const refuse = (code: RefusalCode, values: Record<string, string> = {}): Refusal => ({ code, values });

function unmet(reason: Reason): Refusal {
  const values = Object.entries(reason.values).map(([k, v]): [string, string] => [k, typeof v === 'string' ? v : showQuantity(v)]);
  return refuse('step.unmet', { why: reason.code, ...Object.fromEntries(values) });
}

/** An instrument that would stand for two channels which are read at the same time. */
function readTwice(plan: Plan, e: EventOf<'opened'>): string | undefined {
  const atOnce = new Set(plan.stages.flatMap((s) => (factsOf(s.method).oneAtATime ? s.steps.flatMap(stepChannels) : channelsOf(s))));
  const ids = Object.entries(e.instruments).flatMap(([channel, i]) => (atOnce.has(channel) ? [i.id] : []));
  return ids.find((id, i) => ids.indexOf(id) !== i);
}

function mayOpen(plan: Plan, state: RunState, e: EventOf<'opened'>): Refusal | null {
  if (state.opened) return refuse('run.alreadyOpen');
  if (e.procedure !== plan.digest) return refuse('run.digestDiffers');
  if (e.ruleSet !== plan.ruleSet.id) return refuse('run.ruleSetDiffers');
  const twice = strict(plan) ? readTwice(plan, e) : undefined;
  if (twice !== undefined) return refuse('run.instrumentTwice', { instrument: twice });
  const used = new Set(plan.stages.flatMap(channelsOf));
  const missing = [...used].find((c) => !e.instruments[c] && mustBeFitted(plan.procedure, c, (other) => e.instruments[other] !== undefined));
  return missing === undefined ? null : refuse('run.instrumentMissing', { channel: missing });
}

function mayBegin(plan: Plan, state: RunState, e: EventOf<'began'>): Refusal | null {
  const stage = plan.stages.find((s) => s.id === e.stage);
  if (!stage) return refuse('stage.unknown', { stage: e.stage });
  const last = state.attempts[stage.id]?.at(-1);
  if (e.attempt !== (last?.attempt ?? 0) + 1) return refuse('attempt.wrong', { wanted: String((last?.attempt ?? 0) + 1) });
  if (e.attempt > stage.attempts) return refuse('attempt.tooMany', { most: String(stage.attempts) });
  const day = state.opened && byDay(plan, stage, state.opened, e.at);
  if (day) return unmet(day);
  const expected = next(plan, state);
  if (!last) return expected.kind === 'begin' && expected.stage.id === stage.id ? null : refuse('stage.notNext', { stage: stage.title });
  if (!e.reason) return refuse('stage.reasonMissing');
  // A failed item is not tried again until it passes: its retest is a run of its own, after the repair.
  const failed = last.endedAt !== null && findingsOf(plan, state, stage, last).some((f) => f.verdict === 'fail');
  return failed ? refuse('stage.failed', { stage: stage.title }) : null;
}

function mayEnd(plan: Plan, state: RunState, e: EventOf<'ended'>): Refusal | null {
  const open = openAttempt(state);
  const stage = plan.stages.find((s) => s.id === e.stage);
  if (!open || !stage || open.stage !== e.stage || open.attempt !== e.attempt) return refuse('stage.notOpen', { stage: e.stage });
  // As the attempt would stand if it ended then: a reading that comes after its end is none of its own.
  const task = taskNow(plan, state, stage, { ...open, endedAt: e.at });
  // Nobody has to look for where it leaks: it fails all the same.
  if (stage.seeks && e.reason) return null;
  if (task.kind === 'answer' || task.kind === 'spot') return refuse('check.unanswered', { stage: stage.title });
  // Given up, with its reason: the judge calls it what it is.
  return task.kind === 'end' || e.reason ? null : refuse('hold.notOver', { stage: stage.title });
}

/** Whether somebody may say that what is waited for never comes: only of what can be waited for, and with the gauge read. */
function mayNever(at: Attempted, when: number): Refusal | null {
  if (neverCame(at)) return refuse('step.notNext', { step: NEVER_COMES });
  const wanted = awaited(at, methodTask(at));
  if (!wanted) return refuse('step.notNext', { step: NEVER_COMES });
  const reason = neverUnmet(at, wanted, when);
  return reason && unmet(reason);
}

function mayMark(plan: Plan, state: RunState, e: EventOf<'marked'>): Refusal | null {
  const open = openAttempt(state);
  if (!open) return refuse('stage.notOpen', { stage: e.mark });
  const stage = plan.stages.find((s) => s.id === open.stage);
  if (!stage) return refuse('stage.unknown', { stage: open.stage });
  const at = attemptedOf(plan, state, stage, open);
  const never = strict(plan) && (e.mark === NEVER_COMES || open.marks.some((m) => m.mark === NEVER_COMES));
  const step = never ? undefined : stage.steps.find((s) => !open.marks.some((m) => m.mark === s.id));
  if (step) {
    const mend = mendFor(plan, state, stage, step.id);
    if (mend) return e.mark === mend.id ? null : unmet({ code: 'standsWrong', values: { step: step.text, wanted: mend.text } });
    if (step.id !== e.mark) return refuse('step.notNext', { step: e.mark });
    const reason = stepUnmet(at, step, e.at);
    return reason && unmet(reason);
  }
  if (e.mark === NEVER_COMES && strict(plan)) return mayNever(at, e.at);
  const task = taskNow(plan, state, stage, open);
  if (task.kind === 'answer' && mendFor(plan, state, stage, task.item.id)?.id === e.mark) return null;
  const asked = task.kind === 'start' ? START : task.kind === 'mark' ? task.mark : undefined;
  if (asked !== e.mark || (task.kind !== 'start' && task.kind !== 'mark')) return refuse('step.notNext', { step: e.mark });
  const reason = task.unmet(e.at);
  return reason && unmet(reason);
}

function maySpot(plan: Plan, state: RunState, e: EventOf<'spotted'>): Refusal | null {
  const open = openAttempt(state);
  const stage = plan.stages.find((s) => s.id === open?.stage);
  if (!open || !stage || routeOf(stage.method).length === 0) return refuse('item.notHere', { item: e.spot });
  const task = taskNow(plan, state, stage, open);
  const again = open.spots[e.spot] !== undefined;
  const place = routeOf(stage.method).find((s) => s.id === e.spot);
  const at = attemptedOf(plan, state, stage, open);
  const soon = place && !again && stage.method.kind === 'survey' ? spotTooSoon({ ...at, method: stage.method }, place, e.grade, e.at) : null;
  if (soon) return unmet(soon);
  return again || (task.kind === 'spot' && task.spot.id === e.spot) ? null : refuse('spot.notNext', { spot: e.spot });
}

function mayAnswer(plan: Plan, state: RunState, e: EventOf<'answered'>): Refusal | null {
  const open = openAttempt(state);
  const stage: Stage | undefined = plan.stages.find((s) => s.id === open?.stage);
  if (!open || !stage) return refuse('item.notHere', { item: e.item });
  const at = attemptedOf(plan, state, stage, open);
  const beside = questionsOf(at);
  const item = [...beside, ...(neverCame(at) ? [] : itemsOf(stage.method))].find((i) => i.id === e.item);
  if (!item) return refuse('item.notHere', { item: e.item });
  if (e.answer === 'notApplicable' && !item.optional) return refuse('item.notOptional', { item: item.text });
  if (e.answer === 'watch' && !item.watch) return refuse('item.notWatched', { item: item.text });
  const needsReason = e.answer === 'watch' || e.answer === 'notApplicable' || (e.answer === 'no' && beside.some((i) => i.id === e.item));
  if (needsReason && !e.reason) return refuse('item.reasonMissing', { item: item.text });
  const passes = e.answer === 'yes' || e.answer === 'watch';
  const mend = passes ? mendFor(plan, state, stage, item.id) : null;
  if (mend) return unmet({ code: 'standsWrong', values: { step: item.text, wanted: mend.text } });
  const reason = passes ? yesUnmet(at, item, e.at) : null;
  return reason && unmet(reason);
}

/** Kept for each version: every reading that is typed asks, and only what came since has to be looked at. */
const streamed = new WeakMap<Trail<Chunk>, boolean>();

/** Whether an instrument has sent readings of a channel in this run: nobody types beside it. */
function streams(state: RunState, channel: string): boolean {
  const trail = Object.hasOwn(state.chunks, channel) ? (state.chunks[channel] ?? null) : null;
  let at = trail;
  while (at?.item.typed && !streamed.has(at)) at = at.before;
  const found = at !== null && (streamed.get(at) ?? !at.item.typed);
  if (trail) streamed.set(trail, found);
  return found;
}

function mayRead(plan: Plan, state: RunState, e: EventOf<'reading'> | EventOf<'samples'>): Refusal | null {
  if (!plan.procedure.channels[e.channel]) return refuse('channel.unknown', { channel: e.channel });
  const instrument = state.opened?.instruments[e.channel];
  if (!instrument) return refuse('run.instrumentMissing', { channel: e.channel });
  const unit = e.kind === 'reading' ? e.quantity.unit : e.unit;
  if (!sameDimension(unit, instrument.low.unit)) return refuse('reading.unitWrong', { unit });
  if (e.kind === 'reading' && strict(plan) && streams(state, e.channel))
    return refuse('reading.streams', { channel: plan.procedure.channels[e.channel]?.title ?? e.channel });
  if (e.kind === 'samples') return e.values.length > 0 && e.everyMs > 0 && e.values.every(Number.isFinite) ? null : refuse('samples.malformed');
  const low = decimalIn(e.quantity, instrument.low.unit).lt(instrument.low.value);
  const high = decimalIn(e.quantity, instrument.high.unit).gt(instrument.high.value);
  return low || high ? refuse('reading.outOfRange', { value: showQuantity(e.quantity), instrument: instrument.id }) : null;
}

/** What is asked in a stage: its looks, and the places of its route. */
function askedIn(plan: Plan, state: RunState, id: string): boolean {
  const open = openAttempt(state);
  const stage = plan.stages.find((s) => s.id === open?.stage);
  if (!open || !stage) return false;
  return [...questionsOf(attemptedOf(plan, state, stage, open)), ...itemsOf(stage.method), ...routeOf(stage.method)].some((i) => i.id === id);
}

function mayPicture(plan: Plan, state: RunState, e: EventOf<'pictured'>): Refusal | null {
  if (state.pictures.some((p) => p.picture === e.picture)) return refuse('picture.twice');
  if (state.pictures.length >= MOST_PICTURES) return refuse('picture.tooMany', { most: String(MOST_PICTURES) });
  return e.item === undefined || askedIn(plan, state, e.item) ? null : refuse('item.notHere', { item: e.item });
}

const statements: ReadonlySet<RunEvent['kind']> = new Set(['reading', 'marked', 'answered', 'spotted', 'disturbed', 'pictured']);

function mayWithdraw(state: RunState, e: EventOf<'withdrawn'>): Refusal | null {
  const target = items(state.history).find((x) => x.id === e.event);
  if (!target && Object.values(state.chunks).some((trail) => items(trail).some((c) => c.event === e.event)))
    return refuse('withdraw.notStatement', { kind: 'samples' });
  if (!target || state.withdrawn.has(e.event)) return refuse('withdraw.unknown', { event: e.event });
  if (!statements.has(target.kind)) return refuse('withdraw.notStatement', { kind: target.kind });
  const open = openAttempt(state);
  if (!open || target.at < open.beganAt) return refuse('withdraw.judged', { event: e.event });
  // A start that was read stands on the steps before it: they are not taken from under it.
  const mark = open.marks.findIndex((m) => m.event === e.event);
  return mark >= 0 && mark < open.marks.length - 1 ? refuse('withdraw.stoodOn', { event: e.event }) : null;
}

function maySeal(plan: Plan, state: RunState): Refusal | null {
  const expected = next(plan, state);
  if (expected.kind !== 'seal') return refuse('seal.unfinished', { next: 'stage' in expected ? expected.stage.title : expected.kind });
  const undone = plan.stages
    .filter((s) => s.phase === 'aftercare')
    .find((s) => Object.values(state.attempts[s.id]?.at(-1)?.answers ?? {}).some((a) => a.answer === 'no'));
  return undone ? refuse('seal.aftercare', { stage: undone.title }) : null;
}

/**
 * Asked before an event is appended, never of stored history. The server's answer counts; the bench asks first so that it need not be told no.
 * @returns why the event may not be appended, or null when it may
 * @example ((r) => may(r.plan, r.state, { kind: 'disturbed', id: 'x', source: 's', n: 1, at: 1e12, note: 'touched' })?.code)(exampleOf('suit.inflation', 'inflate')) // 'run.closed'
 */
export function may(plan: Plan, state: RunState, event: RunEvent): Refusal | null {
  const last = (Object.hasOwn(state.sources, event.source) ? state.sources[event.source] : undefined) ?? { n: 0, at: 0 };
  if (event.n !== last.n + 1) return refuse('source.countWrong', { wanted: String(last.n + 1), got: String(event.n) });
  if (event.at < last.at) return refuse('source.timeBack', { last: String(last.at), got: String(event.at) });
  if (event.kind === 'opened') return mayOpen(plan, state, event);
  if (!state.opened) return refuse('run.notOpen');
  // Only the server says what it found.
  if (event.kind === 'recorded') return refuse('run.serverOnly');
  if (event.kind === 'amended') return null;
  if (state.sealed || state.abandoned !== null) return refuse('run.closed');
  switch (event.kind) {
    case 'began':
      return mayBegin(plan, state, event);
    case 'ended':
      return mayEnd(plan, state, event);
    case 'marked':
      return mayMark(plan, state, event);
    case 'answered':
      return mayAnswer(plan, state, event);
    case 'spotted':
      return maySpot(plan, state, event);
    case 'reading':
    case 'samples':
      return mayRead(plan, state, event);
    case 'withdrawn':
      return mayWithdraw(state, event);
    case 'pictured':
      return mayPicture(plan, state, event);
    case 'sealed':
      return maySeal(plan, state);
    case 'disturbed':
    case 'synced':
    case 'gap':
    case 'abandoned':
      return null;
  }
}
