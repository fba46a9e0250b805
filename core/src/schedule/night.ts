import { Temporal } from 'temporal-polyfill';

/**
 * Hours from one instant to another, for preconditions such as eight hours since the last delivery.
 * @throws RangeError for what is no ISO 8601 instant
 * @example hoursBetween('2026-11-25T00:00:00Z', '2026-11-25T08:30:00Z') // 8.5
 */
export function hoursBetween(from: string, to: string): number {
  return Temporal.Instant.from(from).until(Temporal.Instant.from(to)).total('hours');
}

/**
 * Whether a moment lies between sunset and half an hour after sunrise, each an ISO instant. Source: CARB TP-201.3, from memory.
 * @example withinNight('2026-11-28T22:00:00Z', '2026-11-28T15:10:00Z', '2026-11-29T08:20:00Z') // true
 */
export function withinNight(at: string, sunset: string, sunrise: string): boolean {
  return hoursBetween(sunset, at) >= 0 && hoursBetween(at, sunrise) >= -0.5;
}
