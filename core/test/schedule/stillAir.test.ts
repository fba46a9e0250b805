import { describe, expect, it } from 'vitest';
import { stillAir, type Weather } from '../../src';

const at = (hour: number, minute = 0): number => hour * 60 + minute;

describe('the hour and the weather for a half-life (common practice: before dawn or 13:00 to 15:00, no wind, no passing cloud)', () => {
  it.each<[string, Weather, boolean, number | null]>([
    ['04:00, sunrise at 07:00: before dawn', { minuteOfDay: at(4), sunriseMinute: at(7) }, true, 0],
    ['06:29, sunrise at 07:00: the last minute before dawn', { minuteOfDay: at(6, 29), sunriseMinute: at(7) }, true, 0],
    ['06:30, sunrise at 07:00: it is dawn', { minuteOfDay: at(6, 30), sunriseMinute: at(7) }, false, 390],
    ['04:00, nobody knows when the sun rises', { minuteOfDay: at(4) }, false, 540],
    ['12:59', { minuteOfDay: at(12, 59) }, false, 1],
    ['13:00', { minuteOfDay: at(13) }, true, 0],
    ['14:59', { minuteOfDay: at(14, 59) }, true, 0],
    ['15:00: until midnight', { minuteOfDay: at(15), sunriseMinute: at(7) }, false, 540],
    ['15:00, no sunrise known: not today', { minuteOfDay: at(15) }, false, null],
    ['13:30 in a calm', { minuteOfDay: at(13, 30), windMs: 1.5 }, true, 0],
    ['13:30 in a breeze', { minuteOfDay: at(13, 30), windMs: 1.6 }, false, 0],
    ['13:30 under a clear sky', { minuteOfDay: at(13, 30), cloudEighths: 1 }, true, 0],
    ['13:30 under a covered sky', { minuteOfDay: at(13, 30), cloudEighths: 8 }, true, 0],
    ['13:30 with clouds passing', { minuteOfDay: at(13, 30), cloudEighths: 4 }, false, 0],
    ['the far north in June: no dawn to be before', { minuteOfDay: at(16), sunriseMinute: at(0, 10) }, false, null],
  ])('%s', (_, weather, fit, waitMin) => {
    const advice = stillAir(weather);
    expect([advice.fit, advice.waitMin]).toEqual([fit, waitMin]);
    expect(advice.reasons.length > 0).toBe(!fit);
  });

  it('names everything that does not suit', () => {
    expect(stillAir({ minuteOfDay: at(10), sunriseMinute: at(7), windMs: 4, cloudEighths: 5 }).reasons).toHaveLength(3);
  });

  it.each([-1, 1440, NaN])('refuses %s as a minute of the day', (minuteOfDay) => {
    expect(() => stillAir({ minuteOfDay })).toThrow(RangeError);
  });
});
