import type { AccountRole } from '@grellin/contract';
import { fold, judge, may, refusalInWords, type RunEvent, type RunState } from '@grellin/core';
import canonicalize from 'canonicalize';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import type { Database, Transaction } from '../db/database';
import { Coded } from '../errors';
import { requireAuthorised } from '../person/store';
import { closeRun } from '../record/close';
import { refreshStanding } from '../standing/store';
import type { Clocks } from '../station/clocks';
import type { Moment } from '../station/moment';
import type { Histories, RunEntity, RunHistory } from './history';
import { chain } from './chain';
import { asSeen, runClock } from './clock';
import { requireLease, type Holder } from './lease';
import { NOTIFY_CHANNEL } from './live';
import { run, runAsset, runEvent } from './table';

/** More than anybody reads on a certificate. */
const MOST_NOTES = 100;
/** A tablet's clock may run this far ahead of the server's. */
const AHEAD_MS = 5000;

export interface Appended {
  readonly id: string;
  readonly seq: number;
}

export interface AppendRequest {
  readonly run: string;
  readonly events: readonly RunEvent[];
  /** The person who sends, with the lease that is held; null for an instrument, which needs none. */
  readonly person: Sender | null;
  readonly by: string;
  readonly now: Moment;
  readonly clocks: Clocks;
}

/** A person who sends events under a lease. */
export interface Sender extends Holder {
  readonly role: AccountRole;
  readonly lease: number;
  /** What the lease was given out with. */
  readonly secret: string | undefined;
}

/** Locks a run's row: whoever holds it decides the order of the events. */
export async function lockRun(tx: Transaction, id: string): Promise<RunEntity> {
  const [found] = await tx.select().from(run).where(eq(run.id, id)).for('update');
  if (!found) throw new Coded('run.unknown', 'There is no such run.');
  return found;
}

/** Events that are stored already, by id. The same id with other content is an error; the same event again is harmless. */
async function alreadyStored(tx: Transaction, id: string, events: readonly RunEvent[]): Promise<ReadonlyMap<string, number>> {
  const ids = events.map((e) => e.id);
  const found = await tx
    .select()
    .from(runEvent)
    .where(and(eq(runEvent.run, id), inArray(runEvent.eventId, ids)));
  for (const stored of found) {
    const sent = events.find((e) => e.id === stored.eventId);
    if (canonicalize(sent) !== canonicalize(stored.event))
      throw new Coded('event.otherContent', `Event ${stored.eventId} is stored with other content.`, { event: stored.eventId });
  }
  return new Map(found.map((f) => [f.eventId, f.seq]));
}

/** A minute that was not waited out is no result: nobody's events may be ahead of the clock that counts. */
function refuseAhead(entity: RunEntity, state: RunState, event: RunEvent, clockMs: number, instrument: boolean): void {
  // An instrument's own clock is what paces the run; samples out of a person's file are held to the clock like anything else.
  if (event.kind === 'samples' && instrument) return;
  if (event.kind === 'samples' && entity.paced) throw new Coded('source.reserved', 'An instrument sends this run’s readings: a file cannot.');
  const last = event.kind === 'samples' ? event.at + (event.values.length - 1) * event.everyMs : event.at;
  const limit = entity.paced ? state.at : clockMs + AHEAD_MS;
  if (last > limit) throw new Coded('event.ahead', 'This event is ahead of the run’s clock.', { at: String(last), clock: String(limit) });
}

/**
 * Whether what a person sends may count, asked under the run's row lock of the lease that is held now and of what the officer grants now.
 * @returns the lease that the events come under, and whether they are late
 */
async function requireSender(tx: Transaction, entity: RunEntity, person: Sender, events: readonly RunEvent[], today: string): Promise<Standing> {
  // A closed run is nobody's to hold: an officer's amendment needs no lease, and another's is refused.
  const notes = events.filter((e) => e.kind === 'amended').length;
  if (notes > 0 && (await countNotes(tx, entity.id)) + notes > MOST_NOTES)
    throw new Coded('notes.tooMany', `A run carries at most ${String(MOST_NOTES)} notes.`);
  if (entity.closed && notes === events.length) {
    if (person.role !== 'officer') throw new Coded('role.tooLow', 'Only an officer may amend a closed run.');
    return { lease: entity.lease, late: false };
  }
  const proved = await requireLease(tx, entity.id, person.lease, person, person.secret);
  const late = !proved || person.lease < entity.lease;
  // What comes late is kept and counts for nothing; what counts needs whoever may test on this very day.
  if (!late) await requireAuthorised(tx, person.account, entity.procedure, today);
  return { lease: person.lease, late };
}

async function countNotes(tx: Transaction, id: string): Promise<number> {
  const { rows } = await tx.execute<{ n: string }>(sql`SELECT count(*) AS n FROM run_event WHERE run = ${id} AND event->>'kind' = 'amended'`);
  return Number(rows[0]?.n ?? 0);
}

interface Standing {
  readonly lease: number;
  readonly late: boolean;
}

async function appendIn(tx: Transaction, histories: Histories, request: AppendRequest): Promise<readonly Appended[]> {
  const entity = await lockRun(tx, request.run);
  const stored = await alreadyStored(tx, request.run, request.events);
  const fresh = request.events.filter((e) => !stored.has(e.id));
  const twice = fresh.find((e, i) => fresh.findIndex((other) => other.id === e.id) !== i);
  if (twice) throw new Coded('event.twice', `Event ${twice.id} stands twice in what was sent.`, { event: twice.id });
  const result: Appended[] = request.events.filter((e) => stored.has(e.id)).map((e) => ({ id: e.id, seq: stored.get(e.id) ?? 0 }));
  if (fresh.length === 0) return result;
  const { person, now } = request;
  const { lease, late } = person ? await requireSender(tx, entity, person, fresh, now.day) : { lease: entity.lease, late: false };

  const history: RunHistory = await histories.upToDate(tx, request.run);
  let state = history.state;
  let head = { run: entity.id, seq: entity.seq, hash: entity.head };
  // Read under the lock: what waited for it has not been counted yet.
  const reading = request.clocks.read();
  const clock = await runClock(tx, entity, reading);
  if (clock.stepMs !== 0 && !entity.paced && !entity.closed && !late) {
    // Which of the clocks was right is not known: a hold across it is no measurement.
    const step: RunEvent = {
      id: v7(),
      source: 'server',
      n: (state.sources['server']?.n ?? 0) + 1,
      // After everything that was said before the step: a hold that had just begun has it within itself.
      at: Math.max(state.at, entity.clockMs) + 1,
      kind: 'gap',
      wallMs: Math.max(0, clock.stepMs),
      tickMs: Math.max(0, -clock.stepMs),
    };
    state = fold(state, step);
    head = await chain(tx, head, step, request.by, entity.lease, false, now);
  }
  for (const event of fresh) {
    if (!late) {
      refuseAhead(entity, state, event, clock.atMs, person === null);
      const refusal = may(history.plan, state, event);
      if (refusal) throw new Coded('run.refused', refusalInWords(refusal), { ...refusal.values, refusal: refusal.code, event: event.id });
      state = fold(state, event);
    }
    head = await chain(tx, head, event, request.by, lease, late, now);
    result.push({ id: event.id, seq: head.seq });
  }
  const ends = !late && fresh.some((e) => e.kind === 'ended' || e.kind === 'sealed' || e.kind === 'abandoned');
  const judged = ends ? judge(history.plan, state) : null;
  const closes = state.sealed || state.abandoned !== null;
  await tx
    .update(run)
    .set({
      clockMs: Math.max(entity.clockMs, clock.atMs),
      clockSeen: asSeen(reading),
      seq: head.seq,
      head: head.hash,
      closed: closes,
      blocks: judged ? judged.blocks : entity.blocks,
    })
    .where(eq(run.id, entity.id));
  if (judged && judged.blocks !== entity.blocks && !closes) {
    const took = await tx.select({ asset: runAsset.asset }).from(runAsset).where(eq(runAsset.run, entity.id));
    await refreshStanding(
      tx,
      took.map((t) => t.asset),
    );
  }
  if (judged && closes && !entity.closed) await closeRun(tx, { entity, plan: history.plan, state, result: judged, head, by: request.by, now });
  await tx.execute(sql`SELECT pg_notify(${NOTIFY_CHANNEL}, ${`${entity.id}:${head.seq}`})`);
  return result;
}

/**
 * Appends events to a run, all or none. Under the run's row lock the server asks `may`, assigns order, account, storage time and hash, and
 * judges when a stage or the run ends. A person must hold a lease and be authorised for the procedure now; events of an old lease are kept and marked late. An event that is stored already is left as it is.
 * @throws Coded `run.refused` with the refusal's code, `event.ahead`, `event.twice`, `event.otherContent`, `lease.newer`, `lease.notYours`, `authorisation.none`
 */
export function appendEvents(db: Database, histories: Histories, request: AppendRequest): Promise<readonly Appended[]> {
  return db.transaction((tx) => appendIn(tx, histories, request));
}
