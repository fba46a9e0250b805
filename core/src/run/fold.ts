import type { EventOf, RunEvent } from './event';
import { gradeRank, type Chunk } from '../method';
import { emptyRun, openAttempt, type Attempt, type RunState } from './state';
import { added, items, type Trail } from './trail';

/** What a table holds under a name: its own entries alone, so that no name of a prototype's can find anything. */
function own<T>(table: Readonly<Record<string, T>>, name: string): T | undefined {
  return Object.hasOwn(table, name) ? table[name] : undefined;
}

function replaceOpen(state: RunState, change: (open: Attempt) => Attempt): RunState {
  const open = openAttempt(state);
  if (!open) return state; // A statement outside any attempt says nothing about a stage; the history keeps it.
  const before = own(state.attempts, open.stage) ?? [];
  return { ...state, attempts: { ...state.attempts, [open.stage]: [...before.slice(0, -1), change(open)] } };
}

function began(state: RunState, e: EventOf<'began'>): RunState {
  const closed = replaceOpen(state, (open) => ({ ...open, endedAt: e.at, broken: true }));
  const attempt: Attempt = {
    stage: e.stage,
    attempt: e.attempt,
    beganAt: e.at,
    endedAt: null,
    broken: false,
    beginReason: e.reason ?? null,
    endReason: null,
    marks: [],
    answers: {},
    spots: {},
  };
  return { ...closed, current: e.stage, attempts: { ...closed.attempts, [e.stage]: [...(own(closed.attempts, e.stage) ?? []), attempt] } };
}

function chunked(state: RunState, channel: string, chunk: Chunk): RunState {
  return { ...state, chunks: { ...state.chunks, [channel]: added(own(state.chunks, channel) ?? null, chunk) } };
}

/** The effect of one event on what is known, apart from the bookkeeping that every event shares. */
function apply(state: RunState, e: RunEvent): RunState {
  switch (e.kind) {
    case 'opened':
      return state.opened ? state : { ...state, opened: e };
    case 'began':
      return began(state, e);
    case 'ended':
      return replaceOpen(state, (open) =>
        open.stage === e.stage && open.attempt === e.attempt ? { ...open, endedAt: e.at, endReason: e.reason ?? null } : open,
      );
    case 'reading':
      return chunked(state, e.channel, { at: e.at, everyMs: 0, unit: e.quantity.unit, values: [e.quantity.value], typed: true, event: e.id });
    case 'samples':
      return chunked(state, e.channel, { at: e.at, everyMs: e.everyMs, unit: e.unit, values: e.values, typed: false, event: e.id });
    case 'marked':
      return replaceOpen(state, (open) => ({ ...open, marks: [...open.marks, { mark: e.mark, at: e.at, event: e.id }] }));
    case 'answered':
      return replaceOpen(state, (open) => ({
        ...open,
        answers: {
          ...open.answers,
          [e.item]: {
            answer: e.answer,
            reason: e.reason ?? null,
            at: e.at,
            event: e.id,
            refused: e.answer === 'no' || own(open.answers, e.item)?.refused === true,
          },
        },
      }));
    case 'spotted':
      return replaceOpen(state, (open) => {
        // The first look keeps its place in the route; a later one, with more air in, may find it worse.
        const before = own(open.spots, e.spot);
        const firstAt = before?.firstAt ?? e.at;
        const worst = before && gradeRank(before.worst) > gradeRank(e.grade) ? before.worst : e.grade;
        return { ...open, spots: { ...open.spots, [e.spot]: { grade: e.grade, worst, firstAt, event: e.id } } };
      });
    case 'disturbed':
      return { ...state, disturbances: [...state.disturbances, e] };
    case 'gap':
      return { ...state, gaps: [...state.gaps, e] };
    case 'synced':
      return { ...state, halfTripMs: Math.max(state.halfTripMs, e.halfTripMs) };
    case 'amended':
      return { ...state, notes: [...state.notes, e] };
    case 'pictured':
      return { ...state, pictures: [...state.pictures, e] };
    case 'sealed':
      return { ...state, sealed: true };
    case 'abandoned':
      return { ...state, abandoned: e.reason };
    // What the server found of a run says nothing that its events do not.
    case 'recorded':
    case 'withdrawn':
      return state;
  }
}

/**
 * The last time that an event speaks of: a chunk of samples reaches to its last value.
 * @example endOf({ kind: 'sealed', id: 'e1', source: 's', n: 1, at: 5000 }) // 5000
 */
export function endOf(e: RunEvent): number {
  return e.kind === 'samples' ? e.at + Math.max(0, e.values.length - 1) * e.everyMs : e.at;
}

/** What every event leaves behind, whatever it says: its place in the history, its source's count, the newest time. */
function noted(before: RunState, after: RunState, e: RunEvent): RunState {
  const last = own(before.sources, e.source);
  const count = { n: Math.max(e.n, last?.n ?? 0), at: Math.max(endOf(e), last?.at ?? 0) };
  const history = e.kind === 'samples' ? before.history : added(before.history, e);
  return { ...after, history, sources: { ...before.sources, [e.source]: count }, at: Math.max(before.at, endOf(e)) };
}

function without(trail: Trail<Chunk>, withdrawn: ReadonlySet<string>): Trail<Chunk> | null {
  const all = items(trail);
  const kept = all.filter((c) => !withdrawn.has(c.event));
  return kept.length === all.length ? trail : kept.reduce<Trail<Chunk> | null>(added, null);
}

/** A withdrawal is no inverse: the whole history is folded again without what was withdrawn. What was read stands by itself. */
function refolded(state: RunState, withdrawal: EventOf<'withdrawn'>): RunState {
  const withdrawn = new Set([...state.withdrawn, withdrawal.event]);
  const chunks = Object.entries(state.chunks).map(([channel, trail]) => [channel, without(trail, withdrawn)] as const);
  let next: RunState = { ...emptyRun, withdrawn, chunks: Object.fromEntries(chunks.filter((c): c is [string, Trail<Chunk>] => c[1] !== null)) };
  for (const e of items(state.history)) if (e.kind !== 'reading' && !withdrawn.has(e.id)) next = apply(next, e);
  return { ...next, sources: state.sources, at: state.at, history: state.history };
}

/**
 * The run as it was said at first: nothing that was withdrawn is left out. What was seen failing stays seen.
 * @example ((r) => asSaid(r.state) === r.state)(exampleOf('suit.inflation', 'inflate')) // true: nothing of it was withdrawn
 */
export function asSaid(state: RunState): RunState {
  if (state.withdrawn.size === 0) return state;
  let said: RunState = { ...emptyRun, chunks: state.chunks, halfTripMs: state.halfTripMs };
  for (const e of items(state.history)) if (e.kind !== 'reading' || state.withdrawn.has(e.id)) said = apply(said, e);
  return { ...said, sources: state.sources, at: state.at, history: state.history };
}

/**
 * The next state of a run. Total: stored history is never refused; an event that makes no sense changes nothing but the history.
 * It is the reducer of the bench and the server's reader alike.
 * @example fold(emptyRun, { kind: 'disturbed', id: 'e1', source: 's', n: 1, at: 5000, note: 'touched' }).at // 5000
 */
export function fold(state: RunState, event: RunEvent): RunState {
  const after = event.kind === 'withdrawn' ? refolded(state, event) : apply(state, event);
  return noted(state, after, event);
}

/**
 * Folds a whole history.
 * @example foldAll(exampleOf('suit.inflation', 'inflate').events).sealed // true
 */
export function foldAll(events: Iterable<RunEvent>, from: RunState = emptyRun): RunState {
  let state = from;
  for (const event of events) state = fold(state, event);
  return state;
}
