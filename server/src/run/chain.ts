import { same, type Link } from '@grellin/contract';
import type { RunEvent } from '@grellin/core';
import { runEvent, type Transaction } from '../db';
import { ENVELOPE_VERSION, sealOf } from './seal';

// A row is an envelope with its hash: its instant as a date, and the event's id beside it, so that an index can find it.
same<Omit<typeof runEvent.$inferSelect, 'eventId' | 'storedAt'>, Omit<Link, 'storedAt'>>(true);

/** Where a run's chain ends. */
export interface Head {
  readonly run: string;
  readonly seq: number;
  readonly hash: string;
}

/** An event with its place in the chain, as it is stored. */
export type Linked = typeof runEvent.$inferInsert & Head;

/** Puts one event at the end of the chain. Pure: it is stored by whoever asked. */
export function link(head: Head, event: RunEvent, by: string, lease: number, late: boolean, now: Date): Linked {
  const envelope = { run: head.run, seq: head.seq + 1, lease, late, by, storedAt: now.toISOString(), previous: head.hash, event, version: ENVELOPE_VERSION };
  return { ...envelope, storedAt: now, eventId: event.id, hash: sealOf(envelope) };
}

/** Writes one event at the end of the chain. */
export async function chain(tx: Transaction, head: Head, event: RunEvent, by: string, lease: number, late: boolean, now: Date): Promise<Head> {
  const linked = link(head, event, by, lease, late, now);
  await tx.insert(runEvent).values(linked);
  return linked;
}
