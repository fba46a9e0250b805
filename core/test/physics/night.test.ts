import { describe, expect, it } from 'vitest';
import { isNight } from '../../src/physics';

/**
 * Sunrise and sunset at the equinox and the solstices, UTC, as almanacs print them (from memory, to two minutes): Greenwich, Quito, Sydney. Night lasts from sunset to
 * half an hour after sunrise (CARB TP-201.3).
 */
const at = (text: string): number => Date.parse(text);
const minutes = (text: string, by: number): number => at(text) + by * 60_000;

describe('night where an item stands', () => {
  it.each([
    ['Greenwich, winter solstice 2024', 51.48, 0, '2024-12-21T08:04:00Z', '2024-12-21T15:53:00Z'],
    ['Greenwich, summer solstice 2024', 51.48, 0, '2024-06-20T03:43:00Z', '2024-06-20T20:21:00Z'],
    ['Quito, equinox 2024', -0.18, -78.47, '2024-03-20T11:18:00Z', '2024-03-20T23:25:00Z'],
    ['Sydney, winter solstice 2024', -33.87, 151.21, '2024-06-20T21:00:00Z', '2024-06-21T06:54:00Z'],
  ] as const)('%s: from sunset, and until half an hour after sunrise', (_where, latitude, longitude, sunrise, sunset) => {
    const night = (ms: number): boolean => isNight(ms, latitude, longitude);
    expect(night(minutes(sunset, -4))).toBe(false);
    expect(night(minutes(sunset, 4))).toBe(true);
    expect(night(minutes(sunrise, 26))).toBe(true);
    expect(night(minutes(sunrise, 34))).toBe(false);
  });

  it('is all day where the sun does not rise, and never where it does not set', () => {
    const hours = (day: string): readonly boolean[] => Array.from({ length: 24 }, (_, h) => isNight(minutes(`${day}T00:00:00Z`, h * 60), 71.2, 25.8));
    expect(new Set(hours('2026-12-21'))).toEqual(new Set([true]));
    expect(new Set(hours('2026-06-21'))).toEqual(new Set([false]));
  });
});
