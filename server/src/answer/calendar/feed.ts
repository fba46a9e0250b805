import { createHash, randomBytes } from 'node:crypto';
import { addDays, mondayOf } from '@grellin/core';
import { and, asc, eq, isNotNull, isNull, lte } from 'drizzle-orm';
import ical, { ICalEventTransparency } from 'ical-generator';
import { Coded, type Moment } from '../../base';
import { account, asset, calendarFeed, obligation, planBench, planned, type Queries } from '../../db';
import { publishedById } from '../../procedure';

/** How far ahead a calendar looks, and how many dates it holds. */
const AHEAD_DAYS = 400;
const MOST_EVENTS = 5000;

const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/** Makes a secret for a person's calendar; one made before opens nothing any more. @returns the secret, which is kept nowhere */
export async function newFeed(db: Queries, accountId: string, now: Moment): Promise<string> {
  const secret = randomBytes(24).toString('base64url');
  await db
    .insert(calendarFeed)
    .values({ account: accountId, secretHash: hashOf(secret), createdAt: now })
    .onConflictDoUpdate({ target: calendarFeed.account, set: { secretHash: hashOf(secret), createdAt: now } });
  return secret;
}

/** Closes the calendar of an account: its secret opens nothing any more. */
export async function dropFeed(db: Queries, accountId: string): Promise<void> {
  await db.delete(calendarFeed).where(eq(calendarFeed.account, accountId));
}

/**
 * What falls due, as an iCalendar (RFC 5545): one all-day event a due date, the same one when it is read again.
 * @throws Coded for a secret that opens nothing
 */
export async function feedOf(db: Queries, secret: string, now: Moment): Promise<string> {
  const [owner] = await db.select({ name: account.fullName }).from(calendarFeed).innerJoin(account, eq(calendarFeed.account, account.id)).where(eq(calendarFeed.secretHash, hashOf(secret))); // prettier-ignore
  if (!owner) throw new Coded('calendar.unknown', 'This calendar does not exist, or its link was replaced.');
  const today = now.day;
  const due = await db
    .select({
      id: obligation.id,
      due: obligation.due,
      procedure: obligation.procedure,
      tag: asset.tag,
      title: asset.title,
      place: asset.place,
      week: planned.week,
      bench: planBench.name,
    })
    .from(obligation)
    .innerJoin(asset, eq(obligation.asset, asset.id))
    .leftJoin(planned, eq(planned.obligation, obligation.id))
    .leftJoin(planBench, eq(planned.bench, planBench.id))
    .where(and(isNotNull(obligation.due), lte(obligation.due, addDays(today, AHEAD_DAYS)), isNull(obligation.archivedAt), isNull(asset.archivedAt)))
    .orderBy(asc(obligation.due), asc(obligation.id))
    .limit(MOST_EVENTS);
  const calendar = ical({ name: 'Grellin: what falls due', prodId: { company: 'Grellin', product: 'Leak checks', language: 'EN' }, ttl: 3600 });
  for (const d of due) {
    if (d.due === null) continue;
    // What is planned stands in its week besides, on the Monday.
    if (d.week !== null && mondayOf(d.week) >= addDays(today, -7))
      calendar.createEvent({
        id: `${d.id}-planned@grellin`,
        start: new Date(`${mondayOf(d.week)}T00:00:00Z`),
        end: new Date(`${addDays(mondayOf(d.week), 5)}T00:00:00Z`),
        allDay: true,
        stamp: now,
        summary: `This week: ${d.tag}, ${publishedById(d.procedure).document.title}`,
        description: d.title,
        location: d.bench ?? d.place,
        transparency: ICalEventTransparency.TRANSPARENT,
      });
    calendar.createEvent({
      id: `${d.id}@grellin`,
      start: new Date(`${d.due}T00:00:00Z`),
      end: new Date(`${addDays(d.due, 1)}T00:00:00Z`),
      allDay: true,
      stamp: now,
      summary: `${d.tag}: ${publishedById(d.procedure).document.title}${d.due < today ? ' (late)' : ''}`,
      description: d.title,
      location: d.place,
      // A due date takes nobody's time: it is a date, not a meeting.
      transparency: ICalEventTransparency.TRANSPARENT,
    });
  }
  return calendar.toString();
}
