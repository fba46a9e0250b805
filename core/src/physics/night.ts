import { getPosition } from 'suncalc';

/** The sun's centre as it stands, seen through the air, when its upper edge is at the horizon, degrees: half its width below. */
const HORIZON_DEG = -0.27;
const HALF_AN_HOUR_MS = 30 * 60_000;

const sunIsDown = (atMs: number, latitude: number, longitude: number): boolean => getPosition(new Date(atMs), latitude, longitude).altitude <= HORIZON_DEG;

/**
 * Whether it is night at a place: between sunset and half an hour after sunrise, when a vapour system is not warmed by the sun. Where the sun does not rise it is
 * always night, where it does not set never. Source: CARB TP-201.3, from memory; the sun's place by `suncalc`.
 * @param atMs an instant, ms since 1970 UTC
 * @param latitude degrees, north positive
 * @param longitude degrees, east positive
 * @example isNight(Date.parse('2026-06-21T12:00:00Z'), 51.5, 0) // false
 * @example isNight(Date.parse('2026-12-21T12:00:00Z'), 71, 25) // true
 */
export function isNight(atMs: number, latitude: number, longitude: number): boolean {
  return sunIsDown(atMs, latitude, longitude) || sunIsDown(atMs - HALF_AN_HOUR_MS, latitude, longitude);
}
