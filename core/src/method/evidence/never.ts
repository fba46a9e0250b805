import type { Channel, CheckItem, Plan, Reason, Verdict } from '../../procedure';
import { figureOf, strict } from '../../procedure';
import { decimalIn, type Quantity } from '../../quantity';
import type { Attempted } from './attempted';
import { readingsOn } from './readings';
import { markAt } from './steps';
import type { Task } from './task';

/** Marked when somebody says that what the attempt waits for never comes. What is asked then decides what that means. */
export const NEVER_COMES = 'never-comes';

const supply: CheckItem = { id: 'never-supply', text: 'There is supply, open and enough of it, and it reaches the item' };
const usual: readonly CheckItem[] = [{ id: 'never-set-up', text: 'The set-up is right: no valve, plug, selector or hose but where it belongs' }];

/**
 * What is asked when something never comes: whether there is supply, and what could be wrong with the set-up by the procedure's own list. Whether the rig holds by itself is
 * asked of nobody: its proof is a stage of the run.
 * @example setUpAsked(exampleOf('suit.inflation', 'inflate').plan)[0]?.id // 'never-supply'
 */
export const setUpAsked = (plan: Plan): readonly CheckItem[] => [supply, ...(plan.procedure.setUp ?? usual)];

/** What an attempt waits for, where it may never come: a pressure in a window, or something that happens while gauges are read. */
export type Awaited =
  /** `restless` where it has to stay there for a time, and left it again and again. */
  | { readonly channels: readonly Channel[]; readonly low: Quantity; readonly high: Quantity; readonly restless?: true }
  | { readonly channels: readonly Channel[]; readonly event: string };

/**
 * What an attempt waits for now that may never come; null where it is the person's own to do.
 * @param task what its method asks for, once the steps are done
 * @example ((r) => awaited(r.at, { kind: 'end' }))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function awaited(at: Attempted, task: Task): Awaited | null {
  const step = at.stage.steps.find((s) => markAt(at.record, s.id) === undefined);
  if (step?.kind === 'reach') return { channels: [step.channel], low: figureOf(at.plan, step.low), high: figureOf(at.plan, step.high) };
  if (step?.kind === 'wait' && step.keep)
    return { channels: [step.keep.channel], low: figureOf(at.plan, step.keep.low), high: figureOf(at.plan, step.keep.high), restless: true };
  if (step) return null;
  if (task.kind === 'start') return { channels: task.on, low: task.low, high: task.high };
  if (task.kind === 'mark' && task.on.length > 0) return { channels: task.on, event: task.text };
  return null;
}

/** The reading of a channel in the attempt that came nearest to a window; of one that it has to keep, the one that strayed furthest since it was reached. */
function nearest(at: Attempted, channel: Channel, { low, high, restless }: Extract<Awaited, { readonly low: Quantity }>): Quantity | undefined {
  let best: { readonly away: number; readonly value: number } | undefined;
  let reached = restless === undefined;
  for (const r of readingsOn(at.record, channel)) {
    const value = decimalIn(r, low.unit).toNumber();
    const away = Math.max(low.value - value, value - decimalIn(high, low.unit).toNumber());
    reached ||= away <= 0;
    if (reached && (!best || (restless ? away > best.away : away < best.away))) best = { away, value };
  }
  return best && { value: best.value, unit: low.unit };
}

/**
 * Why nothing may be called never coming at a moment: nobody has read the gauge, or it stands where it should.
 * @example ((r) => neverUnmet(r.at, { channels: ['nothing'], event: 'it opens' }, 0)?.code)(exampleOf('suit.inflation', 'inflate')) // 'noReading'
 */
export function neverUnmet(at: Attempted, wanted: Awaited, when: number): Reason | null {
  for (const channel of wanted.channels) {
    const last = readingsOn(at.record, channel).lastUpTo(when);
    if (!last) {
      if (at.instruments[channel] || wanted.channels.length === 1) return { code: 'noReading', values: { channel } };
      continue;
    }
    if ('event' in wanted || wanted.restless) continue;
    const inside = decimalIn(last, wanted.low.unit).gte(wanted.low.value) && decimalIn(last, wanted.high.unit).lte(wanted.high.value);
    if (inside) return { code: 'standsThere', values: { value: { value: last.value, unit: last.unit }, low: wanted.low, high: wanted.high } };
  }
  return null;
}

/** Whether somebody has said in this attempt that it never comes, under rules that ask what that means. */
export const neverCame = (at: Attempted): boolean => strict(at.plan) && markAt(at.record, NEVER_COMES) !== undefined;

/** The first of the questions that is still open. */
const openQuestion = (at: Attempted): CheckItem | undefined => setUpAsked(at.plan).find((i) => at.record.answers[i.id] === undefined);

/**
 * What it means that something never came. With supply and the set-up in order it is the item that leaks faster than it can be filled, or does not do what it should; where
 * something of them was not in order, or was not answered, nobody can tell.
 * @param task what its method asked for, as if nothing had been said
 * @example ((r) => neverMeans({ ...r.at, record: { ...r.record, endedAt: null } }, { kind: 'end' }).verdict)(exampleOf('suit.inflation', 'inflate')) // 'undecided'
 */
export function neverMeans(at: Attempted, task: Task): { readonly channel: Channel | null; readonly verdict: Verdict; readonly reasons: readonly Reason[] } {
  const open = openQuestion(at);
  if (open && at.record.endedAt === null) return { channel: null, verdict: 'undecided', reasons: [{ code: 'unfinished', values: {} }] };
  const wrong = setUpAsked(at.plan).find((i) => at.record.answers[i.id]?.answer !== 'yes');
  if (wrong) return { channel: null, verdict: 'undecided', reasons: [{ code: 'setUpWrong', values: { item: wrong.text } }] };
  const wanted = awaited(at, task);
  const channel = wanted?.channels.find((c) => readingsOn(at.record, c).length > 0) ?? null;
  if (!wanted || channel === null) return { channel: null, verdict: 'void', reasons: [{ code: 'noReading', values: { channel: wanted?.channels[0] ?? '' } }] };
  if ('event' in wanted) {
    const last = readingsOn(at.record, channel).at(-1);
    const best = last && { value: last.value, unit: last.unit };
    return { channel, verdict: 'fail', reasons: [{ code: 'neverCame', values: { event: wanted.event, ...(best ? { best } : {}) } }] };
  }
  const best = nearest(at, channel, wanted) ?? wanted.low;
  // What stands above its window has more in it, not less: something warmed, or nobody let it down.
  if (decimalIn(best, wanted.high.unit).gt(wanted.high.value))
    return { channel, verdict: 'undecided', reasons: [{ code: 'leftWindow', values: { value: best, low: wanted.low, high: wanted.high } }] };
  return { channel, verdict: 'fail', reasons: [{ code: 'neverReached', values: { best, low: wanted.low } }] };
}
