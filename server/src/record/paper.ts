import { and, asc, eq } from 'drizzle-orm';
import { v7 } from 'uuid';
import { paper, type Queries, record, run } from '../db';
import { sha256 } from '../run';

/** What a paper says of where it comes from. */
export interface Issue {
  /** What the address in its code begins with. */
  readonly base: string;
  /** The station's time zone: its days and hours are by it. */
  readonly zone: string;
}

/**
 * The bytes of a paper as it was issued first; it is made, and kept, when nobody has asked for it since the run's last event.
 * @param make draws it
 */
export async function issued(
  db: Queries,
  number: string,
  kind: typeof paper.$inferInsert.kind,
  make: () => Promise<Buffer>,
  by: string,
  now: Date,
): Promise<Buffer> {
  const [of] = await db.select({ head: run.head }).from(record).innerJoin(run, eq(record.run, run.id)).where(eq(record.number, number));
  const head = of?.head ?? '';
  const kept = () =>
    db
      .select({ bytes: paper.bytes })
      .from(paper)
      .where(and(eq(paper.record, number), eq(paper.kind, kind), eq(paper.head, head)))
      .orderBy(asc(paper.id))
      .limit(1);
  const [before] = await kept();
  if (before) return before.bytes;
  const bytes = await make();
  await db.insert(paper).values({ id: v7(), record: number, kind, head, sha256: sha256(bytes), bytes, issuedAt: now, by });
  // Two who asked at once are given the same.
  return (await kept())[0]?.bytes ?? bytes;
}
