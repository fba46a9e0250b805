import { describe, expect, it } from 'vitest';
import { dayAt, isZone, offsetAt, startOfDay, stationDay, stationTime } from '../../src';

const at = (iso: string): number => Date.parse(iso);

describe('what day it was where an instant was written down', () => {
  it.each([
    ['2026-11-25T19:00:00Z', '+13:00', '2026-11-26'],
    ['2026-11-25T10:59:59.999Z', '+13:00', '2026-11-25'],
    ['2026-11-25T09:59:59Z', '-10:00', '2026-11-24'],
    ['2026-11-25T18:30:00Z', '+05:30', '2026-11-26'],
    ['2026-11-25T23:59:59Z', undefined, '2026-11-25'],
  ])('%s at %s is %s', (iso, offset, day) => expect(dayAt(iso, offset)).toBe(day));
});

describe('what day it is at a station', () => {
  // Offsets of the IANA time zone database, from memory: Tongatapu +13 all year, Honolulu −10 all year, Oslo +1/+2, Apia skipped 2011-12-30.
  it.each([
    ['2026-11-27T10:59:59Z', 'Pacific/Tongatapu', '2026-11-27'],
    ['2026-11-27T11:00:00Z', 'Pacific/Tongatapu', '2026-11-28'],
    ['2026-11-27T09:59:59Z', 'Pacific/Honolulu', '2026-11-26'],
    ['2026-11-27T10:00:00Z', 'Pacific/Honolulu', '2026-11-27'],
    ['2026-03-28T23:30:00Z', 'Europe/Oslo', '2026-03-29'],
    ['2026-03-29T21:59:59Z', 'Europe/Oslo', '2026-03-29'],
    ['2026-03-29T22:00:00Z', 'Europe/Oslo', '2026-03-30'],
    ['2026-10-25T22:59:59Z', 'Europe/Oslo', '2026-10-25'],
    ['2026-10-25T23:00:00Z', 'Europe/Oslo', '2026-10-26'],
  ])('%s at %s is %s', (iso, zone, day) => expect(stationDay(at(iso), zone)).toBe(day));

  it('a day begins with its first moment, and the day of a switch has 23 or 25 hours', () => {
    const hours = (day: string, next: string) => (startOfDay(next, 'Europe/Oslo') - startOfDay(day, 'Europe/Oslo')) / 3_600_000;
    expect(hours('2026-03-29', '2026-03-30')).toBe(23);
    expect(hours('2026-10-25', '2026-10-26')).toBe(25);
    expect(hours('2026-11-27', '2026-11-28')).toBe(24);
    expect(stationDay(startOfDay('2026-11-28', 'Pacific/Tongatapu') - 1, 'Pacific/Tongatapu')).toBe('2026-11-27');
  });

  it('tells the offset that is in force, and the time as the clocks show it', () => {
    expect(offsetAt(at('2026-07-01T00:00:00Z'), 'Europe/Oslo')).toBe('+02:00');
    expect(offsetAt(at('2026-12-01T00:00:00Z'), 'Europe/Oslo')).toBe('+01:00');
    expect(stationTime(at('2026-11-27T11:30:00Z'), 'Pacific/Tongatapu')).toBe('2026-11-28 00:30');
  });

  it('knows a zone from what is none', () => {
    for (const zone of ['UTC', 'Pacific/Auckland', 'Etc/GMT+10']) expect([zone, isZone(zone)]).toEqual([zone, true]);
    for (const none of ['', '+13:00', 'Moon/Base', 'UTC; DROP TABLE run', '__proto__']) expect([none, isZone(none)]).toEqual([none, false]);
  });
});
