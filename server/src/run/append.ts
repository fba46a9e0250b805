import type { RunEvent } from '@grellin/core';
import { eq } from 'drizzle-orm';
import { Coded } from '../base';
import { isTaken, runAsset, type Database, type Transaction } from '../db';
import { refreshStanding } from '../standing';
import { closeRun } from './close';
import { type Histories, type RunHistory } from './history';
import type { Linked } from './chain';
import { passedSince, runClock } from './clock';
import { type Appended, type AppendRequest } from './request';
import { askOf, refuseOther, requireSender } from './asked';
import { goOn } from './goOn';
import { store } from './keep';

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
    // What changes how an item stands is written under the lock.
    if (c.judged || c.closes || c.begun !== entity.begun) return null;
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
  if ((become.blocks !== entity.blocks || become.begun !== entity.begun) && !c.closes) {
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
