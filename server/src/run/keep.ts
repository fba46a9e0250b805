import { NOTIFY_CHANNEL } from './live';
import { Coded, type ClockReading } from '../base';
import { type ClockSeen, clientOf, isMissing, type Queries } from '../db';
import type { RunEntity } from './history';
import { DATABASE_MS } from './clock';
import { hashOfSecret } from './lease';
import type { Sender } from './request';
import type { Continued } from './goOn';

/** Stores what was added if the run stands where it was gone on from, and whoever sends may still send. */
const STORE = `
  WITH become AS (
    UPDATE run SET clock_ms = $3, clock_seen = $4::jsonb || jsonb_build_object('databaseMs', ${DATABASE_MS}), seq = $5, head = $6, closed = $7, blocks = $8, begun = $16
    WHERE id = $1::uuid AND seq = $9 AND head = $10 AND lease = $11 AND ($12::uuid IS NULL OR (
      EXISTS (SELECT 1 FROM run_lease l WHERE l.run = $1::uuid AND l.lease = $11 AND l.account = $12::uuid AND l.device = $13 AND l.secret_hash = $14)
      AND EXISTS (SELECT 1 FROM authorisation a WHERE a.account = $12::uuid AND a.procedure = run.procedure AND a.withdrawn_at IS NULL AND a.until >= $15::date)))
    RETURNING clock_seen),
  stored AS (
    INSERT INTO run_event (run, seq, event_id, lease, late, by, stored_at, previous, hash, version, event)
    SELECT $1::uuid, e.seq, e."eventId", e.lease, e.late, e.by, e."storedAt", e.previous, e.hash, e.version, e.event
    FROM become, jsonb_to_recordset($2::jsonb) AS e(seq int, "eventId" text, lease int, late boolean, by uuid, "storedAt" timestamptz, previous text, hash text, version int, event jsonb)),
  told AS (
    INSERT INTO run_picture (run, picture)
    SELECT DISTINCT $1::uuid, e.event->>'picture' FROM become, jsonb_to_recordset($2::jsonb) AS e(event jsonb) WHERE e.event->>'kind' = 'pictured'
    ON CONFLICT DO NOTHING)
  SELECT clock_seen AS seen, pg_notify('${NOTIFY_CHANNEL}', $1::text || ':' || $5::text) FROM become`;

/**
 * Stores the events and what has become of the run, and tells who watches, in one statement.
 * @param sender whose right to send is looked at in that statement; null where it has been looked at under the lock
 * @throws Coded `picture.notKept`
 * @returns the run as it stands now; null when it did not stand where it was gone on from, or the sender may not
 */
export async function store(
  db: Queries,
  entity: RunEntity,
  c: Continued,
  reading: ClockReading,
  sender: Sender | null,
  today: string,
): Promise<RunEntity | null> {
  const blocks = c.judged ? c.judged.blocks : entity.blocks;
  const by = sender ? [sender.account, sender.device, hashOfSecret(sender.secret ?? ''), today] : [null, null, null, null];
  const values = [entity.id, JSON.stringify(c.linked), c.clockMs, JSON.stringify(reading), c.head.seq, c.head.hash, c.closes, blocks, entity.seq, entity.head, entity.lease, ...by, c.begun]; // prettier-ignore
  const { rows } = await clientOf(db)
    .query<{ seen: ClockSeen }>({ name: 'append_stores', text: STORE, values })
    .catch((error: unknown) => {
      throw isMissing(error) ? new Coded('picture.notKept', 'A picture that this tells of has not come: send it first.') : error;
    });
  const [row] = rows;
  return row ? { ...entity, clockMs: c.clockMs, clockSeen: row.seen, seq: c.head.seq, head: c.head.hash, closed: c.closes, blocks, begun: c.begun } : null;
}
