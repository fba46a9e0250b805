import { Temporal } from 'temporal-polyfill';

const MINUTE_MS = 60_000;

/**
 * Whether a text names a time zone of the IANA database.
 * @example isZone('Europe/Oslo') // true
 * @example isZone('+01:00') // false
 */
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

/**
 * What day it was where an instant was written down with its offset from UTC.
 * @param at ISO instant
 * @param offset as `+13:00`; without one it is UTC, which runs of the first editions counted by
 * @throws RangeError for what is no instant
 * @example dayAt('2026-11-25T19:00:00Z', '+13:00') // '2026-11-26'
 */
export function dayAt(at: string, offset = '+00:00'): string {
  const [hours = 0, minutes = 0] = offset.slice(1).split(':').map(Number);
  const ahead = (offset.startsWith('-') ? -1 : 1) * (hours * 60 + minutes) * MINUTE_MS;
  return stationDay(Date.parse(at) + ahead, 'UTC');
}

/**
 * The first moment of a day at a station, milliseconds since 1970. Where the clocks skip midnight, the first that there is.
 * @example startOfDay('2026-11-28', 'Europe/Oslo') - Date.parse('2026-11-27T23:00:00Z') // 0
 */
export function startOfDay(day: string, zone: string): number {
  return Temporal.PlainDate.from(day).toZonedDateTime(zone).startOfDay().epochMilliseconds;
}

/**
 * The offset from UTC that is in force at a station, as `+13:00`.
 * @example offsetAt(Date.parse('2026-11-28T00:00:00Z'), 'Pacific/Auckland') // '+13:00'
 */
export function offsetAt(ms: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).offset;
}

/**
 * An instant as the station's clocks show it, to the minute: `2026-11-28 00:30`.
 * @example stationTime(Date.parse('2026-11-27T11:30:00Z'), 'Pacific/Auckland') // '2026-11-28 00:30'
 */
export function stationTime(ms: number, zone: string): string {
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(zone).toPlainDateTime().toString({ smallestUnit: 'minute' }).replace('T', ' ');
}
