import { ReadingList, type ChannelInstrument, type Chunk, type StageRecord } from '../method';
import type { Channel, Id } from '../procedure';
import { dayAt, daysBetween } from '../schedule';
import type { InstrumentCopy } from './event';
import type { Attempt, RunState } from './state';
import type { Trail } from './trail';

const listed = new WeakMap<Trail<Chunk>, ReadingList>();

/**
 * Every reading of a channel in order of time.
 * @example readingsOf(emptyRun, 'suit').length // 0
 */
export function readingsOf(state: RunState, channel: Channel): ReadingList {
  const trail = Object.hasOwn(state.chunks, channel) ? state.chunks[channel] : undefined;
  if (!trail) return ReadingList.none;
  const kept = listed.get(trail);
  if (kept) return kept;
  // The nearest earlier version that was put in order, and the chunks that came since: several may come between two looks.
  const since: Chunk[] = [];
  let at: Trail<Chunk> | null = trail;
  for (; at && !listed.has(at); at = at.before) since.push(at.item);
  const list = ((at && listed.get(at)) ?? ReadingList.none).with(since.reverse());
  // The older version's list is let go: nobody looks back at it, and the chain of versions would keep every one of them.
  if (at) listed.delete(at);
  listed.set(trail, list);
  return list;
}

/** Kept for the version of what was said that was asked about last: each reading asks again, and changes nothing of it. */
const markedEarlier = new WeakMap<RunState['attempts'], Map<number, Readonly<Record<Id, number>>>>();

/** When each thing was last marked before a moment. */
function earlierMarks(state: RunState, before: number): Readonly<Record<Id, number>> {
  const known = markedEarlier.get(state.attempts) ?? new Map<number, Readonly<Record<Id, number>>>();
  markedEarlier.set(state.attempts, known);
  const kept = known.get(before);
  if (kept) return kept;
  const found = marksBefore(state, before);
  known.set(before, found);
  return found;
}

function marksBefore(state: RunState, before: number): Readonly<Record<Id, number>> {
  const marks = Object.values(state.attempts).flatMap((attempts) => attempts.flatMap((a) => a.marks));
  return Object.fromEntries(
    marks
      .filter((m) => m.at < before)
      .sort((a, b) => a.at - b.at)
      .map((m) => [m.mark, m.at]),
  );
}

/**
 * What a method may look at for one attempt: the stage claims its readings by their time.
 * @example ((r) => recordOf(r.state, r.attempt).attempt)(exampleOf('suit.inflation', 'inflate')) // 1
 */
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
    readings: Object.fromEntries(Object.keys(state.chunks).map((c) => [c, readingsOf(state, c).between(attempt.beganAt, to)])),
    earlier: earlierMarks(state, attempt.beganAt),
    sinceOpened: Object.fromEntries(Object.keys(state.chunks).map((c) => [c, readingsOf(state, c).between(Number.NEGATIVE_INFINITY, to)])),
    disturbances: within(state.disturbances).map((d) => ({ at: d.at, note: d.note, event: d.id })),
    gaps: within(state.gaps).map((g) => ({ at: g.at, lostMs: Math.abs(g.wallMs - g.tickMs) })),
    typedTimingMs: state.halfTripMs / Math.sqrt(3),
  };
}

function inCalibration(instrument: InstrumentCopy, day: string): boolean {
  return instrument.calibrationDue === null ? instrument.fitted : day <= instrument.calibrationDue;
}

/**
 * How long before a day an instrument was calibrated; nothing where nobody knows, or where that was after it.
 * @param day ISO date
 * @example calibratedBefore({ calibratedOn: '2026-11-02' }, '2026-11-25') // { calibratedDaysAgo: 23 }
 */
export function calibratedBefore({ calibratedOn }: Pick<InstrumentCopy, 'calibratedOn'>, day: string): Pick<ChannelInstrument, 'calibratedDaysAgo'> {
  const ago = calibratedOn == null ? -1 : daysBetween(calibratedOn, day);
  return ago < 0 ? {} : { calibratedDaysAgo: ago };
}

/** They are what they were when the run was opened. */
const fitted = new WeakMap<object, Readonly<Record<Channel, ChannelInstrument | undefined>>>();

/**
 * The instruments of the run as the methods need them.
 * @example Object.keys(instrumentsOf(exampleOf('suit.inflation', 'inflate').state)) // ['suit']
 */
export function instrumentsOf(state: RunState): Readonly<Record<Channel, ChannelInstrument | undefined>> {
  const opened = state.opened;
  if (!opened) return {};
  const kept = fitted.get(opened);
  if (kept) return kept;
  const day = dayAt(opened.startedAt, opened.offset);
  const as = (i: InstrumentCopy): ChannelInstrument => ({
    ...i,
    inCalibration: inCalibration(i, day),
    ...calibratedBefore(i, day),
  });
  const instruments = Object.fromEntries(Object.entries(opened.instruments).map(([channel, i]) => [channel, as(i)]));
  fitted.set(opened, instruments);
  return instruments;
}
