/** What is known of the weather around a store; what nobody has looked at is left out. */
export interface Weather {
  /** Minutes since midnight by the clock of the place, 0 to 1439. */
  readonly minuteOfDay: number;
  /** Minute of the day at which the sun rises. */
  readonly sunriseMinute?: number;
  /** Metres a second. */
  readonly windMs?: number;
  /** How much of the sky is covered, eighths, 0 to 8. */
  readonly cloudEighths?: number;
}

export interface StillAirAdvice {
  /** The hour and all that was said of the weather suit a half-life. */
  readonly fit: boolean;
  readonly reasons: readonly string[];
  /** Minutes until an hour that suits; 0 inside one; null where sunrise is not known and no afternoon is left today. */
  readonly waitMin: number | null;
}

/** Hours and weather in which a store neither warms nor cools while it is timed. */
const rows = {
  /** Dawn: it grows light this long before the sun rises. Source: civil twilight at middle latitudes, common practice. */
  dawnBeforeSunriseMin: 30,
  /** The hours after the day's warmest, when the shell no longer warms. Source: common practice. */
  afternoonFromMin: 13 * 60,
  afternoonUntilMin: 15 * 60,
  /** What the trade calls no wind: Beaufort 0 and 1. Source: WMO Beaufort scale, from memory. */
  windMs: 1.5,
  /** A sky that is clear, or covered whole, does not change under the sun; what lies between passes. Source: common practice. */
  clearEighths: 1,
  coveredEighths: 8,
} as const;

const DAY_MIN = 1440;

/**
 * Whether the hour and the weather suit a half-life of a store, and how long to wait if not. It is advice: what the gauge says decides.
 * Source: common practice; AS 2628-2010, from memory.
 * @param w the hour, and what is known of sunrise, wind and cloud
 * @throws RangeError for an hour that no clock shows
 * @example stillAir({ minuteOfDay: 600, sunriseMinute: 380, windMs: 0.5 }).waitMin // 180: at 10:00, three hours until 13:00
 */
export function stillAir(w: Weather): StillAirAdvice {
  const { minuteOfDay: now, sunriseMinute } = w;
  if (!(now >= 0 && now < DAY_MIN)) throw new RangeError(`no minute of a day: ${String(now)}`);
  const dawn = sunriseMinute === undefined ? null : sunriseMinute - rows.dawnBeforeSunriseMin;
  const beforeDawn = dawn !== null && now < dawn;
  const afternoon = now >= rows.afternoonFromMin && now < rows.afternoonUntilMin;
  const reasons: string[] = [];
  if (!beforeDawn && !afternoon)
    reasons.push(
      dawn === null && now < rows.afternoonFromMin
        ? 'Before dawn, or between 13:00 and 15:00: when does the sun rise?'
        : 'The shell warms or cools at this hour: before dawn, or between 13:00 and 15:00',
    );
  if (w.windMs !== undefined && w.windMs > rows.windMs)
    reasons.push(`Wind of ${String(w.windMs)} m/s presses and sucks at the shell: wait for a calm, 1.5 m/s or less`);
  if (w.cloudEighths !== undefined && w.cloudEighths > rows.clearEighths && w.cloudEighths < rows.coveredEighths)
    reasons.push(`${String(w.cloudEighths)} eighths of cloud pass over the sun: wait for a clear or a covered sky`);
  const untilAfternoon = now < rows.afternoonFromMin ? rows.afternoonFromMin - now : null;
  // Night begins at midnight as far as a clock knows; the store has cooled down by then.
  const untilNight = dawn === null || dawn <= 0 ? null : DAY_MIN - now;
  const waitMin = beforeDawn || afternoon ? 0 : (untilAfternoon ?? untilNight);
  return { fit: reasons.length === 0, reasons, waitMin };
}
