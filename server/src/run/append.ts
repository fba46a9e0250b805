import type { AccountRole } from '@grellin/contract';
import { fold, judge, may, refusalInWords, type RunEvent, type RunResult, type RunState } from '@grellin/core';
import canonicalize from 'canonicalize';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { type ClockReading, type Clocks, Coded, type Moment } from '../base';
import { type ClockSeen, authorisation, clientOf, type Database, isTaken, preparedOnce, type Queries, run, runAsset, runLease, type Transaction } from '../db';
import { refreshStanding } from '../standing';
import { requireInForce } from '../account';
import { closeRun } from './close';
import type { Histories, RunEntity, RunHistory } from './history';
import { link, type Head, type Linked } from './chain';
import { DATABASE_MS, passedSince, runClock, type RunClock } from './clock';
import { hashOfSecret, requireLease, type Holder } from './lease';
import { NOTIFY_CHANNEL } from './live';

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

/** A minute that was not waited out is no result: nobody's events may be ahead of the clock that counts. */
function refuseAhead(entity: RunEntity, state: RunState, event: RunEvent, clockMs: number, instrument: boolean): void {
  // An instrument's own clock is what paces the run; samples out of a person's file are held to the clock like anything else.
  if (event.kind === 'samples' && instrument) return;
  if (event.kind === 'samples' && entity.paced) throw new Coded('source.reserved', 'An instrument sends this run’s readings: a file cannot.');
  const last = event.kind === 'samples' ? event.at + (event.values.length - 1) * event.everyMs : event.at;
  const limit = entity.paced ? state.at : clockMs + AHEAD_MS;
  if (last > limit) throw new Coded('event.ahead', 'This event is ahead of the run’s clock.', { at: String(last), clock: String(limit) });
}

/** All that is asked of a run before something is added to it, in one statement under its row lock. */
interface Asked {
  readonly entity: RunEntity;
  /** The lease that the events come under. */
  readonly given: typeof runLease.$inferSelect | null;
  /** The sender's authorisation for the procedure. */
  readonly held: typeof authorisation.$inferSelect | null;
  /** Of the events, those that are stored already. */
  readonly stored: readonly { readonly id: string; readonly seq: number; readonly event: RunEvent }[];
  readonly notes: number;
}

const asking = preparedOnce((db) => {
  const id = sql.placeholder('run');
  return db
    .select({
      entity: run,
      seen: sql<number>`(SELECT seen.seq FROM run seen WHERE seen.id = ${id}::uuid)`,
      given: runLease,
      held: authorisation,
      stored: sql<Asked['stored'] | null>`(SELECT jsonb_agg(jsonb_build_object('id', s.event_id, 'seq', s.seq, 'event', s.event)) FROM run_event s
        WHERE s.run = ${id}::uuid AND s.event_id = ANY(${sql.placeholder('events')}::text[]))`,
      notes: sql<number>`CASE WHEN ${sql.placeholder('notes')}::boolean
        THEN (SELECT count(*)::int FROM run_event n WHERE n.run = ${id}::uuid AND n.event->>'kind' = 'amended') ELSE 0 END`,
    })
    .from(run)
    .leftJoin(runLease, and(eq(runLease.run, run.id), eq(runLease.lease, sql.placeholder('lease'))))
    .leftJoin(authorisation, and(eq(authorisation.procedure, run.procedure), isNull(authorisation.withdrawnAt), sql`${authorisation.account} = ${sql.placeholder('account')}::uuid`))
    .where(sql`${run.id} = ${id}::uuid`)
    .for('update', { of: run })
    .prepare('append_asks');
}); // prettier-ignore

async function askOf(tx: Transaction, request: AppendRequest): Promise<Asked> {
  const { run: id, events, person } = request;
  const [found] = await asking(tx).execute({
    run: id,
    events: events.map((e) => e.id),
    notes: events.some((e) => e.kind === 'amended'),
    lease: person?.lease ?? 0,
    account: person?.account ?? null,
  });
  if (!found) throw new Coded('run.unknown', 'There is no such run.');
  // Where the lock had to be waited for, the row is the newest and all beside it is from before: what was stored meanwhile is asked for once more.
  return found.seen === found.entity.seq ? { ...found, stored: found.stored ?? [] } : askOf(tx, request);
}

/** The same id with other content is an error; the same event again is harmless. */
function refuseOther(stored: Asked['stored'], events: readonly RunEvent[]): void {
  for (const { id, event } of stored) {
    const sent = events.find((e) => e.id === id);
    if (canonicalize(sent) !== canonicalize(event)) throw new Coded('event.otherContent', `Event ${id} is stored with other content.`, { event: id });
  }
}

/**
 * Whether what a person sends may count, asked under the run's row lock of the lease that is held now and of what the officer grants now.
 * @returns the lease that the events come under, and whether they are late
 */
function requireSender({ entity, given, held, notes: before }: Asked, person: Sender, events: readonly RunEvent[], today: string): Standing {
  // A closed run is nobody's to hold: an officer's amendment needs no lease, and another's is refused.
  const notes = events.filter((e) => e.kind === 'amended').length;
  if (notes > 0 && before + notes > MOST_NOTES) throw new Coded('notes.tooMany', `A run carries at most ${String(MOST_NOTES)} notes.`);
  if (entity.closed && notes === events.length) {
    if (person.role !== 'officer') throw new Coded('role.tooLow', 'Only an officer may amend a closed run.');
    return { lease: entity.lease, late: false };
  }
  const proved = requireLease(given, person, person.secret);
  const late = !proved || person.lease < entity.lease;
  // What comes late is kept and counts for nothing; what counts needs whoever may test on this very day.
  if (!late) requireInForce(held, entity.procedure, today);
  return { lease: person.lease, late };
}

interface Standing {
  readonly lease: number;
  readonly late: boolean;
}

/** What is to be stored, and what the run becomes by it. */
interface Continued {
  readonly linked: readonly Linked[];
  readonly state: RunState;
  readonly head: Head;
  readonly clockMs: number;
  readonly closes: boolean;
  /** The whole run's result, where something ended. */
  readonly judged: RunResult | null;
}

/**
 * Goes on with a run from where it stands. Pure but for the ids of what it adds itself.
 * @throws Coded `run.refused`, `event.ahead`
 */
function goOn(
  entity: RunEntity,
  { plan, state: from }: RunHistory,
  request: AppendRequest,
  fresh: readonly RunEvent[],
  sender: Standing,
  clock: RunClock,
): Continued {
  const { lease, late } = sender;
  let state = from;
  let head: Head = { run: entity.id, seq: entity.seq, hash: entity.head };
  const linked: Linked[] = [];
  const put = (event: RunEvent, under: number, isLate: boolean): void => {
    const next = link(head, event, request.by, under, isLate, request.now);
    linked.push(next);
    head = next;
  };
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
    put(step, entity.lease, false);
  }
  for (const event of fresh) {
    if (!late) {
      refuseAhead(entity, state, event, clock.atMs, request.person === null);
      const refusal = may(plan, state, event);
      if (refusal) throw new Coded('run.refused', refusalInWords(refusal), { ...refusal.values, refusal: refusal.code, event: event.id });
      state = fold(state, event);
    }
    put(event, lease, late);
  }
  const ends = !late && fresh.some((e) => e.kind === 'ended' || e.kind === 'sealed' || e.kind === 'abandoned');
  const closes = state.sealed || state.abandoned !== null;
  return { linked, state, head, clockMs: Math.max(entity.clockMs, clock.atMs), closes, judged: ends ? judge(plan, state) : null };
}

/** Stores what was added if the run stands where it was gone on from, and whoever sends may still send. */
const STORE = `
  WITH become AS (
    UPDATE run SET clock_ms = $3, clock_seen = $4::jsonb || jsonb_build_object('databaseMs', ${DATABASE_MS}), seq = $5, head = $6, closed = $7, blocks = $8
    WHERE id = $1::uuid AND seq = $9 AND head = $10 AND lease = $11 AND ($12::uuid IS NULL OR (
      EXISTS (SELECT 1 FROM run_lease l WHERE l.run = $1::uuid AND l.lease = $11 AND l.account = $12::uuid AND l.device = $13 AND l.secret_hash = $14)
      AND EXISTS (SELECT 1 FROM authorisation a WHERE a.account = $12::uuid AND a.procedure = run.procedure AND a.withdrawn_at IS NULL AND a.until >= $15::date)))
    RETURNING clock_seen),
  stored AS (
    INSERT INTO run_event (run, seq, event_id, lease, late, by, stored_at, previous, hash, version, event)
    SELECT $1::uuid, e.seq, e."eventId", e.lease, e.late, e.by, e."storedAt", e.previous, e.hash, e.version, e.event
    FROM become, jsonb_to_recordset($2::jsonb) AS e(seq int, "eventId" text, lease int, late boolean, by uuid, "storedAt" timestamptz, previous text, hash text, version int, event jsonb))
  SELECT clock_seen AS seen, pg_notify('${NOTIFY_CHANNEL}', $1::text || ':' || $5::text) FROM become`;

/**
 * Stores the events and what has become of the run, and tells who watches, in one statement.
 * @param sender whose right to send is looked at in that statement; null where it has been looked at under the lock
 * @returns the run as it stands now; null when it did not stand where it was gone on from, or the sender may not
 */
async function store(db: Queries, entity: RunEntity, c: Continued, reading: ClockReading, sender: Sender | null, today: string): Promise<RunEntity | null> {
  const blocks = c.judged ? c.judged.blocks : entity.blocks;
  const by = sender ? [sender.account, sender.device, hashOfSecret(sender.secret ?? ''), today] : [null, null, null, null];
  const values = [entity.id, JSON.stringify(c.linked), c.clockMs, JSON.stringify(reading), c.head.seq, c.head.hash, c.closes, blocks, entity.seq, entity.head, entity.lease, ...by]; // prettier-ignore
  const { rows } = await clientOf(db).query<{ seen: ClockSeen }>({ name: 'append_stores', text: STORE, values });
  const [row] = rows;
  return row ? { ...entity, clockMs: c.clockMs, clockSeen: row.seen, seq: c.head.seq, head: c.head.hash, closed: c.closes, blocks } : null;
}

/** What an appending has come to: the answer, and what the run has become where that may be kept. */
interface Outcome {
  readonly appended: readonly Appended[];
  readonly history: RunHistory | null;
}

const placed = (linked: readonly Linked[], events: readonly RunEvent[]): readonly Appended[] =>
  linked.flatMap(({ eventId, seq }) => (events.some((e) => e.id === eventId) ? [{ id: eventId, seq }] : []));

/**
 * Goes on from what this server stored last, without asking first: nearly every event of a run. What is stored is stored only if nothing has come between,
 * the lease is held and the authorisation in force; in every other case, and whenever something ends or is refused, the run is asked under its lock.
 * @returns null when it was not stored
 */
async function appendAtOnce(db: Database, histories: Histories, request: AppendRequest): Promise<Outcome | null> {
  const { person, events, now } = request;
  const history = histories.ofThisServer(request.run);
  const entity = history?.entity;
  if (!history || !entity || (person && person.lease !== entity.lease) || events.some((e) => e.kind === 'amended')) return null;
  const reading = request.clocks.read();
  if (entity.clockSeen?.host !== reading.host || entity.clockSeen.start !== reading.start) return null;
  const clock = passedSince(entity.clockSeen, reading, { startedMs: 0, clockMs: entity.clockMs, databaseMs: null });
  try {
    const c = goOn(entity, history, request, events, { lease: entity.lease, late: false }, clock);
    if (c.judged || c.closes) return null;
    const stored = await store(db, entity, c, reading, person, now.day);
    return stored && { appended: placed(c.linked, events), history: { plan: history.plan, state: c.state, seq: stored.seq, entity: stored } };
  } catch (error) {
    // Refused, or stored already: the answer to that is given under the lock.
    if (error instanceof Coded || isTaken(error)) return null;
    throw error;
  }
}

async function appendIn(tx: Transaction, histories: Histories, request: AppendRequest): Promise<Outcome> {
  const asked = await askOf(tx, request);
  const { entity, stored } = asked;
  refuseOther(stored, request.events);
  const known = new Set(stored.map((s) => s.id));
  const fresh = request.events.filter((e) => !known.has(e.id));
  const twice = fresh.find((e, i) => fresh.findIndex((other) => other.id === e.id) !== i);
  if (twice) throw new Coded('event.twice', `Event ${twice.id} stands twice in what was sent.`, { event: twice.id });
  const before: Appended[] = stored.map(({ id, seq }) => ({ id, seq }));
  if (fresh.length === 0) return { appended: before, history: null };
  const { person, now } = request;
  const sender = person ? requireSender(asked, person, fresh, now.day) : { lease: entity.lease, late: false };
  const history = await histories.upToDate(tx, request.run, entity.seq);
  // Read under the lock: what waited for it has not been counted yet.
  const reading = request.clocks.read();
  const c = goOn(entity, history, request, fresh, sender, await runClock(tx, entity, reading));
  const become = await store(tx, entity, c, reading, null, now.day);
  if (!become) throw new Error('a run that is locked has moved');
  if (become.blocks !== entity.blocks && !c.closes) {
    const took = await tx.select({ asset: runAsset.asset }).from(runAsset).where(eq(runAsset.run, entity.id));
    await refreshStanding(
      tx,
      took.map((t) => t.asset),
    );
  }
  if (c.judged && c.closes && !entity.closed)
    await closeRun(tx, { entity, plan: history.plan, state: c.state, result: c.judged, head: c.head, by: request.by, now });
  return {
    appended: [...before, ...placed(c.linked, fresh)],
    history: c.closes ? null : { plan: history.plan, state: c.state, seq: become.seq, entity: become },
  };
}

/**
 * Appends events to a run, all or none. Under the run's row lock the server asks `may`, assigns order, account, storage time and hash, and
 * judges when a stage or the run ends. A person must hold a lease and be authorised for the procedure now; events of an old lease are kept and marked late. An event that is stored already is left as it is.
 * @throws Coded `run.refused` with the refusal's code, `event.ahead`, `event.twice`, `event.otherContent`, `lease.newer`, `lease.notYours`, `authorisation.none`
 */
export async function appendEvents(db: Database, histories: Histories, request: AppendRequest): Promise<readonly Appended[]> {
  const { appended, history } = (await appendAtOnce(db, histories, request)) ?? (await db.transaction((tx) => appendIn(tx, histories, request)));
  if (history) histories.keep(request.run, history);
  return appended;
}
