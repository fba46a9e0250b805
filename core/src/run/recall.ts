import type { Channel, Plan } from '../procedure';
import { foundError, type CalibrationPoint } from '../uncertainty';
import type { RunEvent } from './event';
import { foldAll } from './fold';
import { judge, type RunResult } from './judge';
import { provedBy } from './proof';

/** Digits that a corrected reading keeps: those of the wire. */
const DIGITS = 12;

/**
 * A run's events as they would have been, had the instrument of some channels shown what was true: every reading of them less the error that the
 * instrument was found with there. The sealed history is not touched; this is a history beside it.
 * @example corrected([{ kind: 'reading', id: 'e1', source: 's', n: 1, at: 0, channel: 'suit', quantity: { value: 16.5, unit: 'mbar' } }], new Set(['suit']), [{ nominal: { value: 16, unit: 'mbar' }, asFound: { value: 16.1, unit: 'mbar' }, asLeft: { value: 16, unit: 'mbar' } }])[0].quantity.value // 16.4
 */
export function corrected(events: readonly RunEvent[], channels: ReadonlySet<Channel>, points: readonly CalibrationPoint[]): readonly RunEvent[] {
  const truly = (value: number, unit: string): number => Number((value - foundError(points, { value, unit })).toPrecision(DIGITS));
  return events.map((e): RunEvent => {
    if (e.kind === 'reading' && channels.has(e.channel)) return { ...e, quantity: { ...e.quantity, value: truly(e.quantity.value, e.quantity.unit) } };
    if (e.kind === 'samples' && channels.has(e.channel)) return { ...e, values: e.values.map((v) => truly(v, e.unit)) };
    return e;
  });
}

/** What a run comes to once the error of an instrument is taken off its readings. */
export interface Recalled {
  readonly before: RunResult;
  readonly after: RunResult;
  /** The verdict is another one, or the item would have been blocked: it has to be tested again. */
  readonly changes: boolean;
}

/**
 * Judges a run again for an error that one of its instruments was found with.
 * Source: ISO/IEC 17025:2017, 7.10 (nonconforming work), ISO 10012, from memory.
 * @param events the run's events in order, without late ones
 * @param channels what was read with that instrument
 * @param points the calibration that found it out of tolerance
 * @example ((r) => recall(r.plan, r.events, new Set(['suit']), [{ nominal: { value: 4, unit: "[in_i'H2O]" }, asFound: { value: 4.01, unit: "[in_i'H2O]" }, asLeft: { value: 4, unit: "[in_i'H2O]" } }]).after.verdict)(exampleOf('suit.inflation', 'inflate')) // 'pass'
 */
export function recall(plan: Plan, events: readonly RunEvent[], channels: ReadonlySet<Channel>, points: readonly CalibrationPoint[]): Recalled {
  const before = judge(plan, foldAll(events));
  const after = judge(plan, foldAll(corrected(events, channels, points)));
  return { before, after, changes: before.verdict !== after.verdict || before.blocks !== after.blocks };
}

/**
 * Whether a run still proves its rig, once the error of an instrument is taken off its readings: what stands on its proof stands no better.
 * @param events of the run that proved, in order
 * @example ((r) => provesStill(r.plan, r.events, new Set(['suit']), [{ nominal: { value: 4, unit: "[in_i'H2O]" }, asFound: { value: 4.01, unit: "[in_i'H2O]" }, asLeft: { value: 4, unit: "[in_i'H2O]" } }]))(exampleOf('suit.inflation', 'inflate')) // true
 */
export function provesStill(plan: Plan, events: readonly RunEvent[], channels: ReadonlySet<Channel>, points: readonly CalibrationPoint[]): boolean {
  return provedBy(plan, foldAll(corrected(events, channels, points))) !== null;
}
