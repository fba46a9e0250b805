import {
  allowanceWedge,
  channelsRead,
  decimalIn,
  decimalsOf,
  figureOf,
  findingsOf,
  judge,
  next,
  readingsOf,
  showClock,
  showDecimal,
  showQuantity,
  stageTrace,
  stageUnit,
  unitLabel,
  decimal,
  type EventBody,
  type Finding,
  type Next,
  type Plan,
  type RunResult,
  type RunState,
  type Stage,
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
  /** The newest value in the stage's unit, as the instrument's steps allow; null before the first reading. */
  readonly value: string | null;
  readonly unit: string;
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
}

function stageOf(n: Next): Stage | null {
  return 'stage' in n ? n.stage : null;
}

function segmentsOf(plan: Plan, state: RunState, here: Stage | null): readonly Segment[] {
  return plan.stages.map((s) => {
    const last = state.attempts[s.id]?.at(-1);
    const ended = last && last.endedAt !== null && !last.broken;
    const amiss = ended === true && findingsOf(plan, state, s, last).some((f) => f.verdict !== 'pass');
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
      return { label: 'Done', body: { kind: 'marked', mark: n.step.id } };
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
      return 'Hands off until the clock stops';
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

function gaugesOf(plan: Plan, state: RunState, n: Next, shown: Stage | null): readonly Gauge[] {
  if (!shown) return [];
  return channelsRead(shown.method).map((channel) => {
    const unit = shown.method.kind === 'decay' ? stageUnit(plan, shown.id) : (plan.procedure.channels[channel]?.unit ?? 'Pa');
    const newest = readingsOf(state, channel).at(-1);
    const step = state.opened?.instruments[channel]?.resolution;
    const places = step ? (step.unit === unit ? decimalsOf(step.value) : Math.max(0, Math.ceil(-Math.log10(decimalIn(step, unit).toNumber())))) : 2;
    const reach = n.kind === 'reach' && n.step.kind === 'reach' && n.step.channel === channel;
    const window = (reach || n.kind === 'start') && 'low' in n ? n : null;
    const inside =
      window && newest ? decimalIn(newest, window.low.unit).gte(window.low.value) && decimalIn(newest, window.high.unit).lte(window.high.value) : null;
    return {
      channel,
      title: plan.procedure.channels[channel]?.title ?? channel,
      value: newest ? showDecimal(decimalIn(newest, unit), places) : null,
      unit: unitLabel(unit),
      window: window ? `${showQuantity(window.low)} to ${showQuantity(window.high)}` : null,
      inside,
    };
  });
}

/** How much of the allowance has gone so far, by the newest reading of the worst judged channel. */
function percentSoFar(plan: Plan, state: RunState, stage: Stage): number | null {
  if (stage.method.kind !== 'decay') return null;
  const shares = stage.method.channels.flatMap((channel) => {
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
  if ((n.kind === 'start' || n.kind === 'reach') && n.stage.method.kind === 'decay')
    return { left: showClock(decimalIn(figureOf(plan, n.stage.method.hold), 'ms').toNumber()), label: 'The hold will last', percent: null };
  return null;
}

function judgedOf(plan: Plan, state: RunState, n: Next): BenchView['judged'] {
  if (n.kind !== 'begin' && n.kind !== 'seal') return null;
  const stage = plan.stages.findLast((s) => state.attempts[s.id]?.at(-1)?.endedAt != null && (n.kind === 'seal' || s.id !== n.stage.id || n.attempt > 1));
  const last = stage && state.attempts[stage.id]?.at(-1);
  return stage && last ? { stage, findings: findingsOf(plan, state, stage, last) } : null;
}

/** All that the bench shows, from the events so far and the run's clock. Pure, so that a reload shows the same. */
export function benchView(plan: Plan, state: RunState, now: number): BenchView {
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
    gauges: gaugesOf(plan, state, n, stage),
    timer: timerOf(plan, state, n, now),
    judged,
    result: ends ? judge(plan, state) : null,
    faults: judged && amiss ? plan.procedure.faults.filter((f) => f.stage === judged.stage.id) : [],
  };
}

/** A number as a person writes it, with a comma or a point; null when it is none. */
export function typedNumber(text: string): number | null {
  const plain = text.trim().replace(',', '.').replace('−', '-');
  return /^-?\d{1,9}(\.\d{1,6})?$/.test(plain) ? decimal(plain).toNumber() : null;
}
