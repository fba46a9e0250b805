import type { ChannelInstrument, Reading, StageRecord } from '../method';
import type { Channel } from '../procedure';
import type { InstrumentCopy } from './event';
import type { Attempt, Chunk, RunState } from './state';
import type { Trail } from './trail';

const sorted = new WeakMap<Trail<Chunk>, readonly Reading[]>();

const inOrder = (a: Reading, b: Reading): number => a.at - b.at || Number(a.typed) - Number(b.typed);
const readingsIn = (c: Chunk): Reading[] => c.values.map((value, i) => ({ at: c.at + i * c.everyMs, value, unit: c.unit, typed: c.typed, event: c.event }));

/**
 * Every reading of a channel in order of time. Sources interleave as the network pleases; findings must not depend on it, so time decides
 * and, at equal times, the typed reading comes after the instrument's.
 */
export function readingsOf(state: RunState, channel: Channel): readonly Reading[] {
  const trail = state.chunks[channel];
  if (!trail) return [];
  const kept = sorted.get(trail);
  if (kept) return kept;
  // The nearest earlier version that was put in order, and the chunks that came since: several may come between two looks.
  const since: Chunk[] = [];
  let at: Trail<Chunk> | null = trail;
  for (; at && !sorted.has(at); at = at.before) since.push(at.item);
  const before = (at && sorted.get(at)) ?? [];
  const fresh = since.reverse().flatMap(readingsIn);
  const last = before.at(-1);
  // Almost always what came follows what was there, and nothing is sorted again.
  const inPlace = fresh.every((r, i) => {
    const earlier = i === 0 ? last : fresh[i - 1];
    return !earlier || inOrder(earlier, r) <= 0;
  });
  const ordered = inPlace ? before.concat(fresh) : [...before, ...fresh].sort(inOrder);
  // The older version's list is let go: the chain of versions would keep every one of them.
  if (at) sorted.delete(at);
  sorted.set(trail, ordered);
  return ordered;
}

function between(readings: readonly Reading[], from: number, to: number): readonly Reading[] {
  const first = readings.findIndex((r) => r.at >= from);
  if (first < 0) return [];
  const past = readings.findLastIndex((r) => r.at <= to);
  return readings.slice(first, past + 1);
}

/** What a method may look at for one attempt: the stage claims its readings by their time. */
export function recordOf(state: RunState, attempt: Attempt): StageRecord {
  const to = attempt.endedAt ?? Number.POSITIVE_INFINITY;
  const within = <T extends { at: number }>(list: readonly T[]): readonly T[] => list.filter((x) => x.at >= attempt.beganAt && x.at <= to);
  return {
    attempt: attempt.attempt,
    beganAt: attempt.beganAt,
    endedAt: attempt.endedAt,
    endReason: attempt.endReason,
    marks: attempt.marks,
    answers: attempt.answers,
    spots: attempt.spots,
    readings: Object.fromEntries(Object.keys(state.chunks).map((c) => [c, between(readingsOf(state, c), attempt.beganAt, to)])),
    disturbances: within(state.disturbances).map((d) => ({ at: d.at, note: d.note, event: d.id })),
    gaps: within(state.gaps).map((g) => ({ at: g.at, lostMs: Math.abs(g.wallMs - g.tickMs) })),
    typedTimingMs: state.halfTripMs / Math.sqrt(3),
  };
}

function inCalibration(instrument: InstrumentCopy, startedAt: string): boolean {
  return instrument.calibrationDue === null ? instrument.fitted : startedAt.slice(0, 10) <= instrument.calibrationDue;
}

/** The instruments of the run as the methods need them. */
export function instrumentsOf(state: RunState): Readonly<Record<Channel, ChannelInstrument | undefined>> {
  const opened = state.opened;
  if (!opened) return {};
  return Object.fromEntries(Object.entries(opened.instruments).map(([channel, i]) => [channel, { ...i, inCalibration: inCalibration(i, opened.startedAt) }]));
}
