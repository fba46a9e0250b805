import { createHash } from 'node:crypto';
import type { AnchoredRecord, KeptPaper, KeptPicture, KeptProcedure, KeptRecord, KeptRun, Link } from '@grellin/contract';
import type pg from 'pg';
import type { Kept } from './walk';

/** Reads what is kept with plain SQL, so that verifying believes no other part of the program. */

type Client = Pick<pg.Client, 'query'>;

/** Runs whose ids are fetched at once. */
const LOT = 200;

/** How many runs there are to verify. */
export async function countRuns(client: Client): Promise<number> {
  return Number((await client.query<{ n: string }>('SELECT count(*) AS n FROM run')).rows[0]?.n ?? 0);
}

/** Every document that a run was opened by, in order of the digests. */
export async function proceduresOf(client: Client): Promise<readonly KeptProcedure[]> {
  return (await client.query<KeptProcedure & pg.QueryResultRow>('SELECT digest, document FROM procedure ORDER BY digest')).rows;
}

interface RecordRow extends Omit<KeptRecord, 'sealedAt' | 'sealedOrder'> {
  readonly sealedAt: Date;
  readonly sealedOrder: string;
}

const RECORD = `SELECT number, run, asset, procedure, verdict, blocks, holds, condemns, counts, result, head, sealed_at AS "sealedAt", sealed_order AS "sealedOrder" FROM record`;

const recordFrom = (r: RecordRow): KeptRecord => ({ ...r, sealedAt: r.sealedAt.toISOString(), sealedOrder: Number(r.sealedOrder) });

/** The record under a number, if there is one. */
export async function recordByNumber(client: Client, number: string): Promise<KeptRecord | null> {
  const { rows } = await client.query<RecordRow & pg.QueryResultRow>(`${RECORD} WHERE number = $1`, [number]);
  return rows[0] ? recordFrom(rows[0]) : null;
}

const digestOf = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

/** The same run with the bytes of its pictures, to be verified where no database is. */
async function withBytes(client: Client, run: KeptRun): Promise<KeptRun> {
  const pictures: KeptPicture[] = [];
  for (const p of run.pictures ?? []) {
    const { rows } = await client.query<{ bytes: Buffer }>('SELECT bytes FROM picture WHERE sha256 = $1', [p.sha256]);
    pictures.push({ ...p, base64: rows[0]?.bytes.toString('base64') ?? '' });
  }
  return { ...run, pictures };
}

/** A run out of a bundle, with the digests of its pictures worked out anew: what a bundle says of them is not believed. */
export function readAnew(run: KeptRun): KeptRun {
  return { ...run, pictures: (run.pictures ?? []).map((p) => ({ ...p, actual: digestOf(Buffer.from(p.base64 ?? '', 'base64')) })) };
}

/** One run with all that is kept of it; of its pictures the digests of what is kept. */
export async function keptRun(client: Client, id: string): Promise<KeptRun | null> {
  const { rows: runs } = await client.query<Omit<KeptRun, 'chain' | 'record' | 'papers' | 'pictures'> & pg.QueryResultRow>(
    'SELECT id, procedure, digest, asset, closed, seq, head FROM run WHERE id = $1',
    [id],
  );
  const [run] = runs;
  if (!run) return null;
  const { rows: links } = await client.query<Omit<Link, 'storedAt'> & { readonly storedAt: Date } & pg.QueryResultRow>(
    'SELECT run, seq, lease, late, by, stored_at AS "storedAt", previous, event, version, hash FROM run_event WHERE run = $1 ORDER BY seq',
    [id],
  );
  const { rows: records } = await client.query<RecordRow & pg.QueryResultRow>(`${RECORD} WHERE run = $1`, [id]);
  const { rows: papers } = await client.query<{ record: string; kind: string; issuedAt: Date; sha256: string; bytes: Buffer } & pg.QueryResultRow>(
    'SELECT p.record, p.kind, p.issued_at AS "issuedAt", p.sha256, p.bytes FROM paper p JOIN record r ON r.number = p.record WHERE r.run = $1 ORDER BY p.id',
    [id],
  );
  const { rows: pictures } = await client.query<{ sha256: string; bytes: Buffer } & pg.QueryResultRow>(
    'SELECT p.sha256, p.bytes FROM run_picture r JOIN picture p ON p.sha256 = r.picture WHERE r.run = $1 ORDER BY p.sha256',
    [id],
  );
  return {
    ...run,
    chain: links.map((l) => ({ ...l, storedAt: l.storedAt.toISOString() })),
    record: records[0] ? recordFrom(records[0]) : null,
    papers: papers.map(({ bytes, ...p }): KeptPaper => ({
      ...p,
      issuedAt: p.issuedAt.toISOString(),
      actual: digestOf(bytes),
    })),
    pictures: pictures.map(({ sha256, bytes }): KeptPicture => ({ sha256, actual: digestOf(bytes) })),
  };
}

/** Every run, one after another. A record whose run is gone comes as a run without events. */
export async function* everyRun(client: Client): AsyncGenerator<KeptRun> {
  for (let last = '00000000-0000-0000-0000-000000000000'; ;) {
    const { rows } = await client.query<{ id: string }>('SELECT id FROM run WHERE id > $1 ORDER BY id LIMIT $2', [last, LOT]);
    for (const { id } of rows) {
      const run = await keptRun(client, id);
      if (run) yield run;
    }
    const end = rows.at(-1);
    if (!end) return;
    last = end.id;
  }
}

/** Every run as a bundle has it: with the bytes of its pictures. */
export async function* everyRunWhole(client: Client): AsyncGenerator<KeptRun> {
  for await (const run of everyRun(client)) yield await withBytes(client, run);
}

/** What is anchored of every record, in the order in which they were sealed. */
export async function* recordsInOrder(client: Client): AsyncGenerator<AnchoredRecord> {
  for (let last = '0'; ;) {
    const { rows } = await client.query<AnchoredRecord & { order: string } & pg.QueryResultRow>(
      'SELECT number, run, head, sealed_order AS "order" FROM record WHERE sealed_order > $1 ORDER BY sealed_order LIMIT 5000',
      [last],
    );
    for (const { number, run, head } of rows) yield { number, run, head };
    const end = rows.at(-1);
    if (!end) return;
    last = end.order;
  }
}

/** Everything that is kept, as it is read; a run that grows meanwhile may be read half before an append and half after it. */
export async function keptOf(client: Client): Promise<Kept> {
  return { total: await countRuns(client), procedures: await proceduresOf(client), runs: everyRun(client), records: () => recordsInOrder(client) };
}

/**
 * Everything that is kept, in one picture of the database: what is appended while it is looked through comes the next time, and no run is read half before an append
 * and half after it.
 * @param client a connection of its own, on which nothing else is asked meanwhile
 */
export async function inOnePicture<T>(client: Client, look: (kept: Kept) => Promise<T>): Promise<T> {
  await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
  try {
    return await look(await keptOf(client));
  } finally {
    await client.query('ROLLBACK');
  }
}
