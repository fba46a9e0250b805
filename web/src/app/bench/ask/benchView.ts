import {
  attemptedOf,
  beginsByItself,
  channelsRead,
  decimalIn,
  drawingById,
  findingInWords,
  findingsOf,
  headline,
  judge,
  mendOf,
  next,
  PASSED,
  readingsOf,
  requiredStages,
  standsNow,
  tapsOf,
  wayOf,
  type Attempt,
  type Drawing,
  type Finding,
  type Next,
  type Plan,
  type RunResult,
  type RunState,
  type Stage,
  type Tap,
  type UnitChoices,
} from '@grellin/core';
import { gaugesOf, timerOf, type Gauge, type HoldView } from './gaugeView';
import { lastSaidOf, type LastSaid } from './lastSaid';
import { instructionOf, primaryOf, whyOf, type Primary } from './primary';

export interface Segment {
  readonly id: string;
  readonly title: string;
  readonly state: 'done' | 'here' | 'ahead' | 'amiss';
}

/** A state of the set-up as it stands; `asked` while it has to be brought to another way. */
export interface Standing {
  readonly id: string;
  readonly said: string;
  readonly asked: boolean;
}

export interface BenchView {
  readonly next: Next;
  /** The stage that is shown: the one under way, else the one that comes next. */
  readonly stage: Stage | null;
  readonly segments: readonly Segment[];
  readonly place: string;
  readonly primary: Primary;
  readonly instruction: string;
  /** Why it is done, for whoever does it for the first time. */
  readonly why: string | null;
  readonly cautions: readonly string[];
  /** The drawing of what a hand does there. */
  readonly drawing: Drawing | null;
  readonly gauges: readonly Gauge[];
  readonly timer: HoldView | null;
  /** Findings of the stage that was ended last, while nothing new has begun. */
  readonly judged: { readonly stage: Stage; readonly findings: readonly Finding[] } | null;
  readonly result: RunResult | null;
  readonly faults: readonly { readonly sign: string; readonly cause: string; readonly next: string }[];
  /** What the person said last in the attempt that is open: it can still be taken back. */
  readonly lastSaid: LastSaid | null;
  /** How the set-up stands, where the procedure has something that can stand one way or another. */
  readonly setUp: readonly Standing[];
  /** Figures that a thumb catches as the needle goes through them. */
  readonly taps: readonly Tap[];
  /** In a round the stage that comes next begins without a press. */
  readonly flows: boolean;
  /** What the stage before found, while the one that began by itself is still at its beginning. */
  readonly before: string | null;
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

/** What hangs on a failure is no part of the way while nothing has failed. */
function onTheWay(plan: Plan, state: RunState): readonly Stage[] {
  const required = new Set(requiredStages(plan, state).map((s) => s.id));
  return plan.stages.filter((s) => (!s.seeks && s.decides === undefined) || required.has(s.id) || state.attempts[s.id] !== undefined);
}

function segmentsOf(plan: Plan, state: RunState, here: Stage | null): readonly Segment[] {
  return onTheWay(plan, state).map((s) => {
    const last = state.attempts[s.id]?.at(-1);
    const ended = last && last.endedAt !== null && !last.broken;
    const amiss = ended === true && endedFindings(plan, state, s, last).some((f) => f.verdict !== 'pass');
    return { id: s.id, title: s.title, state: s.id === here?.id && !ended ? 'here' : amiss ? 'amiss' : ended ? 'done' : 'ahead' };
  });
}

function setUpOf(plan: Plan, state: RunState, n: Next): readonly Standing[] {
  const asked = n.kind === 'act' ? Object.keys(mendOf(n.step.id) ?? {}) : [];
  return Object.entries(standsNow(plan, state)).map(([id, way]) => ({
    id,
    said: wayOf(plan.procedure, id, way)?.said ?? `${id}: ${way}`,
    asked: asked.includes(id),
  }));
}

function judgedOf(plan: Plan, state: RunState, n: Next): BenchView['judged'] {
  if (n.kind !== 'begin' && n.kind !== 'seal') return null;
  const stage = plan.stages.findLast((s) => state.attempts[s.id]?.at(-1)?.endedAt != null && (n.kind === 'seal' || s.id !== n.stage.id || n.attempt > 1));
  const last = stage && state.attempts[stage.id]?.at(-1);
  return stage && last ? { stage, findings: endedFindings(plan, state, stage, last) } : null;
}

/** What was found last, told again at the first question or step of the next stage: who is led on without a press sees it all the same. */
function beforeOf(plan: Plan, state: RunState, n: Next): string | null {
  if (!('stage' in n) || n.kind === 'begin') return null;
  const open = state.attempts[n.stage.id]?.at(-1);
  if (!open || open.marks.length > 0 || Object.keys(open.answers).length > 0) return null;
  const ended = plan.stages.flatMap((s) => (state.attempts[s.id] ?? []).flatMap((a) => (a.endedAt === null ? [] : [{ s, a, at: a.endedAt }])));
  const last = ended.reduce<(typeof ended)[number] | null>((m, x) => (m === null || x.at >= m.at ? x : m), null);
  const found = last ? headline(plan, endedFindings(plan, state, last.s, last.a)) : undefined;
  return last && found && found.observed !== null ? `${last.s.title}: ${findingInWords(found)}` : null;
}

function drawingOf(n: Next): Drawing | null {
  const id = n.kind === 'answer' ? n.item.drawing : 'step' in n ? n.step.drawing : undefined;
  return (id === undefined ? undefined : drawingById(id)) ?? null;
}

function tapsNow(plan: Plan, state: RunState, n: Next): readonly Tap[] {
  if (n.kind !== 'act' || n.step.id !== PASSED || n.stage.method.kind !== 'elapsed') return [];
  const open = state.attempts[n.stage.id]?.at(-1);
  return open ? tapsOf(attemptedOf(plan, state, { ...n.stage, method: n.stage.method }, open)) : [];
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
  const way = onTheWay(plan, state);
  const at = way.findIndex((s) => s.id === stage?.id);
  const amiss = judged?.findings.some((f) => f.verdict !== 'pass') ?? false;
  const ends = n.kind === 'seal' || n.kind === 'closed';
  return {
    next: n,
    stage,
    segments: segmentsOf(plan, state, stage),
    place: stage ? `${at + 1} of ${way.length} · ${stage.title}` : ends ? 'Done' : '',
    primary: primaryOf(n, now),
    instruction: instructionOf(n, now),
    why: whyOf(n),
    cautions: plan.procedure.cautions.filter((c) => places.has(c.before)).map((c) => c.text),
    drawing: drawingOf(n),
    gauges: gaugesOf(plan, state, n, stage, choices),
    timer: timerOf(plan, state, n, now),
    judged,
    result: ends ? judge(plan, state) : null,
    lastSaid: lastSaidOf(plan, state),
    setUp: setUpOf(plan, state, n),
    taps: tapsNow(plan, state, n),
    flows: beginsByItself(plan, state, n),
    before: beforeOf(plan, state, n),
    prompt: promptOf(plan, state, n, now),
    faults: judged && amiss ? plan.procedure.faults.filter((f) => f.stage === judged.stage.id) : [],
  };
}
