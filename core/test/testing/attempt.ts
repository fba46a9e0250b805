import { judgeStage, ReadingList, type ChannelInstrument, type Finding, type Reading, type StageRecord } from '../../src/method';
import { setupFor } from '../../src/practice';
import {
  figureOf,
  makePlan,
  mustBeFitted,
  procedureById,
  type AttributesByRole,
  type Grade,
  type Lists,
  type Plan,
  type Procedure,
  type Stage,
  type Tables,
} from '../../src/procedure';

export interface Written {
  /** By channel: seconds, value. In the channel's unit. */
  readonly readings?: Readonly<Record<string, readonly (readonly [number, number])[]>>;
  readonly marks?: Readonly<Record<string, number>>;
  readonly answers?: Readonly<Record<string, 'yes' | 'no' | 'notApplicable'>>;
  readonly spots?: readonly (readonly [string, Grade])[];
  /** Steps that were never marked. */
  readonly undone?: readonly string[];
  readonly ended?: number | null;
  readonly attempt?: number;
  readonly typed?: boolean;
  /** Standard uncertainty of typed times, ms. */
  readonly typedTimingMs?: number;
  readonly gaps?: StageRecord['gaps'];
  readonly instruments?: Readonly<Record<string, Partial<ChannelInstrument>>>;
}

export function planOf(procedure: Procedure | string, ruleSet: string, assets: AttributesByRole, on?: string, lists?: Lists, tables?: Tables): Plan {
  const document = typeof procedure === 'string' ? procedureById(procedure) : procedure;
  const day = { ...(lists ? { lists } : {}), ...(tables ? { tables } : {}) };
  const made = document && makePlan(document, 'd', ruleSet, assets, on, day);
  if (!made?.ok) throw new Error(JSON.stringify(made));
  return made.plan;
}

/** Signals for low air that a vehicle has. */
export const signalled = { lowAirLamp: true, lowAirBuzzer: true, secondLamp: false, lowAirMessage: false, ebs: false } as const;

/** Braked axles by their chambers, all of one unit. */
export const axlesOf = (...chambers: readonly string[]): Lists => ({ axles: chambers.map((chamber) => ({ unit: '1', chamber })) });

/** The plan of what stands on a practice bench. */
export function practised(procedure: string, ruleSet: string): Plan {
  const { assets, lists, tables } = setupFor(procedure, ruleSet);
  return planOf(procedure, ruleSet, Object.fromEntries(Object.entries(assets).map(([role, x]) => [role, x.attributes])), undefined, lists, tables);
}

export function stageOf(plan: Plan, id: string): Stage {
  const stage = plan.stages.find((s) => s.id === id);
  if (!stage) throw new Error(`no stage ${id}`);
  return stage;
}

/** One attempt at a stage, written down by hand: every step is marked in its order from the beginning on, half a second apart, unless `marks` says when. */
export function recordFor(plan: Plan, stageId: string, w: Written): StageRecord {
  const stage = stageOf(plan, stageId);
  const steps = Object.fromEntries(stage.steps.filter((s) => !w.undone?.includes(s.id)).map((s, i) => [s.id, (i + 1) / 2]));
  const marks = Object.entries({ ...steps, ...w.marks }).map(([mark, s]) => ({ mark, at: s * 1000, event: `mark ${mark}` }));
  const readings = Object.fromEntries(
    Object.entries(w.readings ?? {}).map(([channel, list]) => [
      channel,
      ReadingList.of(
        list.map(([s, value], i): Reading => ({
          at: s * 1000,
          value,
          unit: plan.procedure.channels[channel]?.unit ?? '1',
          typed: w.typed ?? false,
          event: `${channel} ${i}`,
        })),
      ),
    ]),
  );
  return {
    attempt: w.attempt ?? 1,
    beganAt: 0,
    endedAt: w.ended === undefined ? 1e6 : w.ended === null ? null : w.ended * 1000,
    endReason: null,
    marks: marks.sort((a, b) => a.at - b.at),
    answers: Object.fromEntries(
      Object.entries(w.answers ?? {}).map(([item, answer], i) => [
        item,
        { answer, reason: answer === 'yes' ? null : 'so', at: i, event: `answer ${item}`, refused: answer === 'no' },
      ]),
    ),
    spots: Object.fromEntries((w.spots ?? []).map(([spot, grade], i) => [spot, { grade, worst: grade, firstAt: (i + 1) * 10_000, event: `spot ${spot}` }])),
    readings,
    earlier: {},
    sinceOpened: readings,
    disturbances: [],
    gaps: w.gaps ?? [],
    typedTimingMs: w.typedTimingMs ?? 0,
  };
}

/** A gauge for each channel: fine, as wide as the rule lets it be, in calibration. */
export function instrumentsFor(plan: Plan, changes: Written['instruments'] = {}): Readonly<Record<string, ChannelInstrument>> {
  return Object.fromEntries(
    Object.entries(plan.procedure.channels).map(([channel, { unit, asks }]) => {
      const q = (value: number) => ({ value, unit });
      return [
        channel,
        {
          fitted: false,
          low: q(-1e6),
          high: asks?.upTo === undefined ? q(1e6) : figureOf(plan, asks.upTo),
          resolution: q(0.001),
          accuracy: q(0.001),
          correlation: 0.9,
          inCalibration: true,
          ...(asks?.calibratedWithin === undefined ? {} : { calibratedDaysAgo: 30 }),
          ...changes[channel],
        },
      ];
    }),
  );
}

/** A gauge for each channel but those that need not be fitted, and that nobody read nor said anything of. */
export function fittedFor(plan: Plan, w: Written): Readonly<Record<string, ChannelInstrument>> {
  const isSaid = (c: string): boolean => (w.readings?.[c] ?? w.instruments?.[c]) !== undefined;
  return Object.fromEntries(Object.entries(instrumentsFor(plan, w.instruments)).filter(([c]) => isSaid(c) || mustBeFitted(plan.procedure, c, isSaid)));
}

/** What a stage finds. */
export function found(plan: Plan, stageId: string, w: Written): readonly Finding[] {
  return judgeStage(plan, stageOf(plan, stageId), recordFor(plan, stageId, w), fittedFor(plan, w));
}

/** The only finding, or the one of a channel or limit. */
export function only(findings: readonly Finding[], which?: string): Finding {
  const list = which === undefined ? findings : findings.filter((f) => f.channel === which || f.limit?.id === which);
  const [first] = list;
  if (!first || list.length > 1) throw new Error(`${list.length} findings: ${JSON.stringify(findings.map((f) => [f.channel, f.limit?.id, f.verdict]))}`);
  return first;
}

export const codes = (f: Finding): readonly string[] => f.reasons.map((r) => r.code);
