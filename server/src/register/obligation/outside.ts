import type { OutsideCertificate } from '@grellin/contract';
import { dueAfter } from '@grellin/core';
import { eq } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../../base';
import { type Database, noteChange, obligation, outsideCertificate, type Queries, touched } from '../../db';
import { refreshStanding } from '../../standing';
import { obligationFor, tagOf } from './store';

/** What a scan is, by its first bytes. */
function mimeOf(scan: Buffer): 'application/pdf' | 'image/png' | 'image/jpeg' {
  if (scan.subarray(0, 5).toString('latin1') === '%PDF-') return 'application/pdf';
  if (scan.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))) return 'image/png';
  if (scan.subarray(0, 3).equals(Buffer.from([0xff, 0xd8, 0xff]))) return 'image/jpeg';
  throw new Coded('outside.scan', 'The scan must be a PDF, a PNG or a JPEG.');
}

/**
 * Settles what is owed by a certificate from outside, whose scan is kept.
 * @throws Coded for a day to come, one before the last test, or a scan that is none
 */
export function settleOutside(
  db: Database,
  id: string,
  given: OutsideCertificate,
  by: string,
  now: Moment,
): Promise<{ readonly due: string | null; readonly change: string }> {
  const today = now.day;
  if (given.doneOn > today) throw new Coded('occasion.ahead', 'That day has not come yet.', { on: given.doneOn });
  const scan = Buffer.from(given.scan, 'base64');
  const mime = mimeOf(scan);
  return db.transaction(async (tx) => {
    const held = await obligationFor(tx, id);
    if (held.lastDone !== null && given.doneOn < held.lastDone) throw new Coded('outside.older', 'It has been tested since.', { lastDone: held.lastDone });
    const due = dueAfter(held, given.doneOn, held.due);
    const { issuer, number, doneOn } = given;
    const kept = { id: v7(), obligation: id, doneOn, issuer, number, mime, nextDue: due, by, at: now, archivedAt: null };
    await tx.insert(outsideCertificate).values({ ...kept, scan });
    const [made] = await tx.update(obligation).set({ due, lastDone: doneOn, lastDoneAt: now.endOf(doneOn) }).where(eq(obligation.id, id)).returning(); // prettier-ignore
    const words = `${await tagOf(tx, held.asset)}: certificate ${number} of ${issuer}`;
    const change = await noteChange(tx, words, [touched('obligation', id, held, made ?? held), touched('outside', kept.id, null, kept)], by, now);
    await refreshStanding(tx, [held.asset]);
    return { due, change };
  });
}

/** The scan of a certificate from outside. */
export async function outsideScan(db: Queries, id: string): Promise<{ readonly mime: string; readonly scan: Buffer }> {
  const [found] = await db.select({ mime: outsideCertificate.mime, scan: outsideCertificate.scan }).from(outsideCertificate).where(eq(outsideCertificate.id, id)); // prettier-ignore
  if (!found) throw new Coded('outside.unknown', 'There is no such certificate.');
  return found;
}
