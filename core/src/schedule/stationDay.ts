import { Temporal } from 'temporal-polyfill';

/** Whether a text names a time zone of the IANA database. */
export function isZone(text: string): boolean {
  try {
    Temporal.Instant.fromEpochMilliseconds(0).toZonedDateTimeISO(text);
    // An offset is no zone: it knows no summer time.
    return /^[A-Za-z][A-Za-z0-9_+/-]*$/.test(text);
  } catch {
    return false;
  }
}

/**
 * What day it is at a station.
 * @param ms milliseconds since 1970
 * @param zone IANA name of the station's time zone
 * @returns ISO date
 * @throws RangeError for a zone that is none
 * @example stationDay(Date.parse('2026-11-27T11:30:00Z'), 'Pacific/Auckland') // '2026-11-28'
 */
export function stationDay(ms: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).toPlainDate().toString();
}

/** The first moment of a day at a station, milliseconds since 1970. Where the clocks skip midnight, the first that there is. */
export function startOfDay(day: string, zone: string): number {
  return Temporal.PlainDate.from(day).toZonedDateTime(zone).startOfDay().epochMilliseconds;
}

/** The offset from UTC that is in force at a station, as `+13:00`. */
export function offsetAt(ms: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).offset;
}

/** An instant as the station's clocks show it, to the minute: `2026-11-28 00:30`. */
export function stationTime(ms: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).toPlainDateTime().toString({ smallestUnit: 'minute' }).replace('T', ' ');
}
