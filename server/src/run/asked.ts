import type { RunEvent } from '@grellin/core';
import canonicalize from 'canonicalize';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { Coded } from '../base';
import { authorisation, preparedOnce, run, runLease, type Transaction } from '../db';
import { requireInForce } from '../account';
import type { RunEntity } from './history';
import { requireLease } from './lease';
import { type AppendRequest, type Sender } from './request';

/** More than anybody reads on a certificate. */
const MOST_NOTES = 100;

/** Locks a run's row: whoever holds it decides the order of the events. */
export async function lockRun(tx: Transaction, id: string): Promise<RunEntity> {
  const [found] = await tx.select().from(run).where(eq(run.id, id)).for('update');
  if (!found) throw new Coded('run.unknown', 'There is no such run.');
  return found;
}

/** All that is asked of a run before something is added to it, in one statement under its row lock. */
export interface Asked {
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

/** Asks it. */
export async function askOf(tx: Transaction, request: AppendRequest): Promise<Asked> {
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
export function refuseOther(stored: Asked['stored'], events: readonly RunEvent[]): void {
  for (const { id, event } of stored) {
    const sent = events.find((e) => e.id === id);
    if (canonicalize(sent) !== canonicalize(event)) throw new Coded('event.otherContent', `Event ${id} is stored with other content.`, { event: id });
  }
}

/**
 * Whether what a person sends may count, asked under the run's row lock of the lease that is held now and of what the officer grants now.
 * @returns the lease that the events come under, and whether they are late
 */
export function requireSender({ entity, given, held, notes: before }: Asked, person: Sender, events: readonly RunEvent[], today: string): Standing {
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

/** Under which lease events come, and whether they come too late to count. */
export interface Standing {
  readonly lease: number;
  readonly late: boolean;
}
