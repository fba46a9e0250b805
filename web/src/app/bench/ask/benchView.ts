import {
  allowanceWedge,
  channelsRead,
  decimalIn,
  decimalsOf,
  figureOf,
  findingsOf,
  gradeInWords,
  judge,
  next,
  openAttempt,
  preferred,
  readingsOf,
  sameDimension,
  showClock,
  showDecimal,
  showQuantity,
  stageTrace,
  stageUnit,
  unitLabel,
  decimal,
  type Attempt,
  type EventBody,
  type Finding,
  type Next,
  type Plan,
  type Quantity,
  type RunEvent,
  type RunResult,
  type RunState,
  type Stage,
  type UnitChoices,
  factsOf,
  itemsOf,
  limitedChannels,
  routeOf,
} from '@grellin/core';

export interface Segment {
  readonly id: string;
  readonly title: string;
  readonly state: 'done' | 'here' | 'ahead' | 'amiss';
}

/** The one primary action, bound to Space. */
export interface Primary {
  readonly label: string;
  /** What pressing it says; null while it only shows what is going on. */
  readonly body: EventBody | null;
}

export interface Gauge {
  readonly channel: string;
  readonly title: string;
  /** The newest value in the unit that the person reads in, as the instrument's steps allow; null before the first reading. */
  readonly value: string | null;
  readonly unit: string;
  /** The same in the unit of the source, where that is another. */
  readonly also: string | null;
  readonly window: string | null;
  readonly inside: boolean | null;
}

export interface HoldView {
  readonly left: string;
  readonly label: string;
  readonly percent: number | null;
}

export interface BenchView {
  readonly next: Next;
  /** The stage that is shown: the one under way, else the one that comes next. */
  readonly stage: Stage | null;
  readonly segments: readonly Segment[];
  readonly place: string;
  readonly primary: Primary;
  readonly instruction: string;
  readonly cautions: readonly string[];
  readonly gauges: readonly Gauge[];
  readonly timer: HoldView | null;
  /** Findings of the stage that was ended last, while nothing new has begun. */
  readonly judged: { readonly stage: Stage; readonly findings: readonly Finding[] } | null;
  readonly result: RunResult | null;
  readonly faults: readonly { readonly sign: string; readonly cause: string; readonly next: string }[];
  /** What the person said last in the attempt that is open: it can still be taken back. */
  readonly lastSaid: { readonly event: string; readonly words: string } | null;
  /** What the hold asks of the person now, again and again. */
  readonly prompt: { readonly text: string; readonly n: number } | null;
}

function stageOf(n: Next): Stage | null {
  return 'stage' in n ? n.stage : null;
}

const kept = new WeakMap<Attempt, readonly Finding[]>();

/**
 * The findings of an ended attempt. They are worked out once: a relief trace is not analysed again at every tick. Until every instrument has
 * spoken of a later time, something of the attempt may still be on its way, and nothing is kept.
 */
function endedFindings(plan: Plan, state: RunState, stage: Stage, last: Attempt): readonly Finding[] {
  const found = kept.get(last);
  if (found) return found;
  const findings = findingsOf(plan, state, stage, last);
  const { endedAt } = last;
  const past = endedAt !== null && channelsRead(stage.method).every((c) => (readingsOf(state, c).at(-1)?.at ?? endedAt + 1) > endedAt);
  if (past) kept.set(last, findings);
  return findings;
}

function segmentsOf(plan: Plan, state: RunState, here: Stage | null): readonly Segment[] {
  return plan.stages.map((s) => {
    const last = state.attempts[s.id]?.at(-1);
    const ended = last && last.endedAt !== null && !last.broken;
    const amiss = ended === true && endedFindings(plan, state, s, last).some((f) => f.verdict !== 'pass');
    return { id: s.id, title: s.title, state: s.id === here?.id && !ended ? 'here' : amiss ? 'amiss' : ended ? 'done' : 'ahead' };
  });
}

function primaryOf(n: Next, now: number): Primary {
  switch (n.kind) {
    case 'begin':
      return {
        label: n.attempt > 1 ? `Begin again: ${n.stage.title}` : n.stage.title,
        body: { kind: 'began', stage: n.stage.id, attempt: n.attempt, ...(n.attempt > 1 ? { reason: 'broken off before' } : {}) },
      };
    case 'answer':
      return { label: 'Yes', body: { kind: 'answered', item: n.item.id, answer: 'yes' } };
    case 'spot':
      return { label: 'Nothing here', body: { kind: 'spotted', spot: n.spot.id, grade: 'none' } };
    case 'read':
      return { label: 'Read it and write it down', body: null };
    case 'act':
      // What the method itself waits for is caught the moment it comes.
      return { label: n.stage.steps.some((s) => s.id === n.step.id) ? 'Done' : 'Now', body: { kind: 'marked', mark: n.step.id } };
    case 'reach':
      return { label: 'It stands in the window', body: { kind: 'marked', mark: n.step.id } };
    case 'wait':
      return { label: `Settling · ${showClock(n.until - now)} left`, body: null };
    case 'start':
      return { label: 'Start the hold', body: { kind: 'marked', mark: 'start' } };
    case 'hold':
      return now < n.until ? { label: `Holding · ${showClock(n.until - now)} left`, body: null } : { label: 'Time is up: read the gauge', body: null };
    case 'end':
      return { label: 'Judge it', body: { kind: 'ended', stage: n.stage.id, attempt: n.attempt } };
    case 'seal':
      return { label: 'Seal the record', body: { kind: 'sealed' } };
    case 'closed':
      return { label: 'The run is closed', body: null };
  }
}

function instructionOf(n: Next): string {
  switch (n.kind) {
    case 'answer':
      return n.item.automatic ? 'A no here ends the test' : 'A no asks what is wrong';
    case 'spot':
      return `Soap it: ${n.spot.text}`;
    case 'read':
      return 'Type what it reads';
    case 'act':
    case 'wait':
    case 'reach':
      return n.step.text;
    case 'start':
      return `Trim it into ${showQuantity(n.low)} to ${showQuantity(n.high)}, hands off, then start`;
    case 'hold':
      return factsOf(n.stage.method).keptUp ? 'Hold the pressure until the clock stops' : 'Hands off until the clock stops';
    case 'begin':
      return `Next: ${n.stage.title}`;
    case 'end':
      return 'All said';
    case 'seal':
      return 'Everything is done. Sealing writes the record, and nothing in it can be changed afterwards.';
    case 'closed':
      return 'The record is written';
  }
}

/** A figure as the person reads it, with the one of its source in brackets. */
export function inBoth(q: Quantity, choices: UnitChoices, step: number): string {
  const liked = preferred(q, choices, step);
  return liked ? `${showQuantity(liked, liked.decimals)} (${showQuantity(q)})` : showQuantity(q);
}

function gaugesOf(plan: Plan, state: RunState, n: Next, shown: Stage | null, choices: UnitChoices): readonly Gauge[] {
  if (!shown) return [];
  // Push-rods are drawn side by side; only the one that is measured now is a gauge.
  const read = factsOf(shown.method).oneAtATime ? (n.kind === 'read' ? [n.channel] : []) : channelsRead(shown.method);
  return read
    .filter((c) => state.opened?.instruments[c])
    .map((channel) => {
      const unit = factsOf(shown.method).trace ? stageUnit(plan, shown.id) : (plan.procedure.channels[channel]?.unit ?? 'Pa');
      const newest = readingsOf(state, channel).at(-1);
      const step = state.opened?.instruments[channel]?.resolution;
      const places = step ? (step.unit === unit ? decimalsOf(step.value) : Math.max(0, Math.ceil(-Math.log10(decimalIn(step, unit).toNumber())))) : 2;
      const reach = n.kind === 'reach' && n.step.kind === 'reach' && n.step.channel === channel;
      // A start's window is one of pressure: the flow and the water beside it have none.
      const window = (reach || n.kind === 'start') && 'low' in n && sameDimension(n.low.unit, unit) ? n : null;
      const inside =
        window && newest ? decimalIn(newest, window.low.unit).gte(window.low.value) && decimalIn(newest, window.high.unit).lte(window.high.value) : null;
      const own = newest ? showDecimal(decimalIn(newest, unit), places) : null;
      const smallest = 10 ** -places;
      const liked = newest ? preferred({ value: decimalIn(newest, unit).toNumber(), unit }, choices, smallest) : null;
      return {
        channel,
        title: plan.procedure.channels[channel]?.title ?? channel,
        value: liked ? showDecimal(decimal(liked.value), liked.decimals) : own,
        unit: unitLabel(liked?.unit ?? unit),
        also: liked ? `${own ?? '–'} ${unitLabel(unit)}` : null,
        window: window ? `${inBoth(window.low, choices, smallest)} to ${inBoth(window.high, choices, smallest)}` : null,
        inside,
      };
    });
}

/** How much of the allowance has gone so far, by the newest reading of the worst judged channel. */
function percentSoFar(plan: Plan, state: RunState, stage: Stage): number | null {
  if (factsOf(stage.method).trace?.(stage.method).hold === undefined) return null;
  const shares = limitedChannels(stage.method).flatMap((channel) => {
    const trace = stageTrace(plan, state, stage.id, channel);
    if (!trace?.hold) return [];
    const { startAt } = trace.hold;
    const start = trace.points.findLast(([at]) => at <= startAt)?.[1];
    const newest = trace.points.at(-1)?.[1];
    const wedge = start === undefined ? null : allowanceWedge(plan, stage.id, channel, start, trace.unit);
    return start === undefined || newest === undefined || !wedge || wedge.permitted <= 0
      ? []
      : [Math.max(0, Math.round(((start - newest) / wedge.permitted) * 100))];
  });
  return shares.length === 0 ? null : Math.max(...shares);
}

function timerOf(plan: Plan, state: RunState, n: Next, now: number): HoldView | null {
  if (n.kind === 'wait') return { left: showClock(n.until - now), label: 'Time left to settle', percent: null };
  if (n.kind === 'hold') return { left: showClock(n.until - now), label: 'Time left in the hold', percent: percentSoFar(plan, state, n.stage) };
  const hold = n.kind === 'start' || n.kind === 'reach' ? factsOf(n.stage.method).trace?.(n.stage.method).hold : undefined;
  if (hold !== undefined) return { left: showClock(decimalIn(figureOf(plan, hold), 'ms').toNumber()), label: 'The hold will last', percent: null };
  return null;
}

function judgedOf(plan: Plan, state: RunState, n: Next): BenchView['judged'] {
  if (n.kind !== 'begin' && n.kind !== 'seal') return null;
  const stage = plan.stages.findLast((s) => state.attempts[s.id]?.at(-1)?.endedAt != null && (n.kind === 'seal' || s.id !== n.stage.id || n.attempt > 1));
  const last = stage && state.attempts[stage.id]?.at(-1);
  return stage && last ? { stage, findings: endedFindings(plan, state, stage, last) } : null;
}

/** How long a prompt stays on the screen, ms. */
const PROMPT_MS = 8000;

/** What the rule set asks for at every so much of a hold, while it is asked for. */
function promptOf(plan: Plan, state: RunState, n: Next, now: number): BenchView['prompt'] {
  if (n.kind !== 'hold') return null;
  const channels = channelsRead(n.stage.method);
  const byEye = channels.some((c) => readingsOf(state, c).at(-1)?.typed === true);
  for (const p of plan.ruleSet.prompts ?? []) {
    if (p.stage !== n.stage.id || (p.byEye && !byEye)) continue;
    const every = decimalIn(p.every, 'ms').toNumber();
    const since = now - n.since;
    const count = Math.floor(since / every);
    if (count > 0 && since - count * every < PROMPT_MS) return { text: p.text, n: count };
  }
  return null;
}

const statements: ReadonlySet<RunEvent['kind']> = new Set(['marked', 'answered', 'spotted', 'reading', 'disturbed']);

function saidInWords(plan: Plan, e: RunEvent): string {
  const stages = plan.stages;
  switch (e.kind) {
    case 'answered':
      return `“${stages.flatMap((s) => itemsOf(s.method)).find((i) => i.id === e.item)?.text ?? e.item}”: ${{ yes: 'yes', no: 'no', notApplicable: 'does not apply' }[e.answer]}`;
    case 'spotted':
      return `“${stages.flatMap((s) => routeOf(s.method)).find((i) => i.id === e.spot)?.text ?? e.spot}”: ${gradeInWords(e.grade)}`;
    case 'reading':
      return `${plan.procedure.channels[e.channel]?.title ?? e.channel} ${showQuantity(e.quantity)}`;
    case 'marked':
      return stages.flatMap((s) => s.steps).find((s) => s.id === e.mark)?.text ?? (e.mark === 'start' ? 'the start' : e.mark);
    default:
      return 'note' in e ? e.note : e.kind;
  }
}

/** The last thing that a person said in the open attempt and has not taken back. */
function lastSaidOf(plan: Plan, state: RunState): BenchView['lastSaid'] {
  const open = openAttempt(state);
  if (!open) return null;
  const seen = new Set<string>();
  for (let trail = state.history; trail; trail = trail.before) {
    const e = trail.item;
    if (e.at < open.beganAt || e.kind === 'began') return null;
    if (e.kind === 'withdrawn') seen.add(e.event);
    else if (statements.has(e.kind) && !seen.has(e.id) && !state.withdrawn.has(e.id)) return { event: e.id, words: saidInWords(plan, e) };
  }
  return null;
}

/**
 * All that the bench shows, from the events so far and the run's clock. Pure, so that a reload shows the same.
 * @param choices units that the person reads in; those of the sources stand beside them
 */
export function benchView(plan: Plan, state: RunState, now: number, choices: UnitChoices = {}): BenchView {
  const n = next(plan, state);
  const stage = stageOf(n);
  const judged = judgedOf(plan, state, n);
  const step = 'step' in n ? n.step.id : null;
  const places = new Set([stage?.id, step]);
  const at = plan.stages.findIndex((s) => s.id === stage?.id);
  const amiss = judged?.findings.some((f) => f.verdict !== 'pass') ?? false;
  const ends = n.kind === 'seal' || n.kind === 'closed';
  return {
    next: n,
    stage,
    segments: segmentsOf(plan, state, stage),
    place: stage ? `${at + 1} of ${plan.stages.length} · ${stage.title}` : ends ? 'Done' : '',
    primary: primaryOf(n, now),
    instruction: instructionOf(n),
    cautions: plan.procedure.cautions.filter((c) => places.has(c.before)).map((c) => c.text),
    gauges: gaugesOf(plan, state, n, stage, choices),
    timer: timerOf(plan, state, n, now),
    judged,
    result: ends ? judge(plan, state) : null,
    lastSaid: lastSaidOf(plan, state),
    prompt: promptOf(plan, state, n, now),
    faults: judged && amiss ? plan.procedure.faults.filter((f) => f.stage === judged.stage.id) : [],
  };
}
