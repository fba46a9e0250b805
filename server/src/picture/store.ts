import { createHash } from 'node:crypto';
import { pictureFlaws, readPicture } from '@grellin/contract';
import { and, count, eq, gt, notExists } from 'drizzle-orm';
import { Coded } from '../base';
import { type Database, picture, type Queries, runPicture } from '../db';

/** Pictures that one person has sent within a day and no run tells of. */
const MOST_WAITING = 100;
const DAY_MS = 86_400_000;

/** Whose picture it is, and when it came. */
export interface Sent {
  readonly by: string;
  readonly at: Date;
}

async function requireRoom(db: Queries, { by, at }: Sent): Promise<void> {
  const told = db.select({ run: runPicture.run }).from(runPicture).where(eq(runPicture.picture, picture.sha256));
  const [found] = await db
    .select({ waiting: count() })
    .from(picture)
    .where(and(eq(picture.by, by), gt(picture.at, new Date(at.getTime() - DAY_MS)), notExists(told)));
  if ((found?.waiting ?? 0) >= MOST_WAITING) throw new Coded('picture.tooMany', 'Too many of your pictures of today belong to no run.');
}

/**
 * Keeps a picture under the SHA-256 of its bytes, if it is one and no more than one. Keeping it again is harmless.
 * @param named the digest that it was sent under
 * @throws Coded `picture.otherBytes`, `picture.refused` with its flaw, `picture.tooMany`
 */
export async function keepPicture(db: Database, named: string, bytes: Buffer, sent: Sent): Promise<void> {
  const read = readPicture(bytes);
  if ('flaw' in read) throw new Coded('picture.refused', pictureFlaws[read.flaw], { flaw: read.flaw });
  if (createHash('sha256').update(bytes).digest('hex') !== named)
    throw new Coded('picture.otherBytes', 'These are not the bytes of this picture: send it again.');
  const [known] = await db.select({ sha256: picture.sha256 }).from(picture).where(eq(picture.sha256, named));
  if (known) return;
  await requireRoom(db, sent);
  await db
    .insert(picture)
    .values({ sha256: named, bytes, ...read, ...sent })
    .onConflictDoNothing();
}

/**
 * The bytes of a picture.
 * @throws Coded `picture.unknown`
 */
export async function pictureBytes(db: Queries, sha256: string): Promise<Buffer> {
  const [found] = await db.select({ bytes: picture.bytes }).from(picture).where(eq(picture.sha256, sha256));
  if (!found) throw new Coded('picture.unknown', 'There is no such picture.');
  return found.bytes;
}
