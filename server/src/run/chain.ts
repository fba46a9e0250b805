import type { RunEvent } from '@grellin/core';
import type { Transaction } from '../db/database';
import { ENVELOPE_VERSION, sealOf } from './seal';
import { runEvent } from './table';

/** Where a run's chain ends. */
export interface Head {
  readonly run: string;
  readonly seq: number;
  readonly hash: string;
}

/** Writes one event at the end of the chain. */
export async function chain(tx: Transaction, head: Head, event: RunEvent, by: string, lease: number, late: boolean, now: Date): Promise<Head> {
  const seq = head.seq + 1;
  const envelope = { run: head.run, seq, lease, late, by, storedAt: now.toISOString(), previous: head.hash, event, version: ENVELOPE_VERSION };
  const hash = sealOf(envelope);
  await tx
    .insert(runEvent)
    .values({ run: head.run, seq, eventId: event.id, lease, late, by, storedAt: now, previous: head.hash, hash, event, version: ENVELOPE_VERSION });
  return { run: head.run, seq, hash };
}
