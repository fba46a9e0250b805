import { createHash } from 'node:crypto';
import { catalogue, checkProcedure, type Procedure } from '@grellin/core';
import canonicalize from 'canonicalize';
import { eq } from 'drizzle-orm';
import { Coded } from '../base';
import { procedure, type Queries } from '../db';

/** SHA-256 of a value's canonical JSON (RFC 8785), in hex. */
export function digestOf(value: unknown): string {
  return createHash('sha256')
    .update(canonicalize(value) ?? '')
    .digest('hex');
}

/** Publishes the built-in procedures, each edition once. Run at every start. */
export async function publishCatalogue(db: Queries, now: Date): Promise<void> {
  for (const document of catalogue) {
    const flaws = checkProcedure(document);
    if (flaws.length > 0) throw new Error(`procedure ${document.id} is not sound: ${JSON.stringify(flaws)}`);
    await db
      .insert(procedure)
      .values({ digest: digestOf(document), id: document.id, edition: document.edition, document, publishedAt: now })
      .onConflictDoNothing();
  }
}

export interface Published {
  readonly digest: string;
  readonly document: Procedure;
}

/** The built-in procedures with their digests. */
export const builtIn: readonly Published[] = catalogue.map((document) => ({ digest: digestOf(document), document }));

/**
 * The newest edition of a procedure of the catalogue.
 * @throws Coded `procedure.unknown`
 */
export function publishedById(id: string): Published {
  const found = builtIn.find((p) => p.document.id === id);
  if (!found) throw new Coded('procedure.unknown', `There is no procedure ${id}.`);
  return found;
}

const byDigest = new Map<string, Promise<Procedure>>();

async function fetchByDigest(db: Queries, digest: string): Promise<Procedure> {
  const [found] = await db.select().from(procedure).where(eq(procedure.digest, digest));
  if (!found) throw new Coded('procedure.unknown', 'The procedure of this run is not kept here.', { digest });
  return found.document;
}

/**
 * A procedure as it was published: runs are read by this, never by today's edition. The question that is under way is shared: a thousand records on a cold
 * server ask the database once. Where it fails, because it was asked in a transaction that came to nothing, whoever shared it asks for himself.
 */
export async function publishedByDigest(db: Queries, digest: string): Promise<Procedure> {
  for (let shared = byDigest.get(digest); shared; shared = byDigest.get(digest)) {
    const found = await shared.catch(() => null);
    if (found) return found;
    if (byDigest.get(digest) === shared) byDigest.delete(digest);
  }
  const asked = fetchByDigest(db, digest);
  byDigest.set(digest, asked);
  asked.catch(() => byDigest.delete(digest));
  return asked;
}
