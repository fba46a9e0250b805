import { customType, timestamp, uuid } from 'drizzle-orm/pg-core';

/** A calendar date, as its ISO text: never through a Date, which has a time and a zone. */
export const isoDate = customType<{ data: string; driverData: string }>({ dataType: () => 'date' });

/** An instant. */
export const instant = (name: string) => timestamp(name, { withTimezone: true, mode: 'date' });

export const key = () => uuid('id').primaryKey();
