import { addDays, offsetAt, startOfDay, stationDay } from '@grellin/core';

/** An instant that knows what day it is at the station: whoever is handed one never asks which zone a day is in. */
export class Moment extends Date {
  constructor(
    at: Date | number,
    /** IANA name of the station's time zone. */
    readonly zone: string,
  ) {
    super(at);
  }

  /** ISO date. */
  get day(): string {
    return stationDay(this.getTime(), this.zone);
  }

  /** The day of another instant. */
  dayOf(at: Date): string {
    return stationDay(at.getTime(), this.zone);
  }

  get offset(): string {
    return offsetAt(this.getTime(), this.zone);
  }

  /** The first moment of a day. */
  startOf(day: string): Date {
    return new Date(startOfDay(day, this.zone));
  }

  /** The last millisecond of a day, which may be 23 or 25 hours after its first. */
  endOf(day: string): Date {
    return new Date(startOfDay(addDays(day, 1), this.zone) - 1);
  }
}
