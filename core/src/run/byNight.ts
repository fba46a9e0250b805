import { Temporal } from 'temporal-polyfill';
import { isNight } from '../physics';
import { figure, type Plan, type Reason, type Stage } from '../procedure';
import type { Opened } from './event';
import type { WrongStand } from './stands';
import type { RunState } from './state';

/** The hour and minute of an instant where a run was opened. */
const hourAt = (instant: number, offset = '+00:00'): string =>
  Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO(offset).toPlainTime().toString({ smallestUnit: 'minute' });

/**
 * Why a stage may not be done at a moment of the run's clock: it is day where the item stands. Null where it may, and on a simulated clock, which has no hour.
 * @param at ms on the run's clock
 * @example ((r) => byDay(r.plan, r.stage, r.opened, 0))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function byDay(plan: Plan, stage: Stage, opened: Opened, at: number): Reason | null {
  if (!stage.byNight || opened.clock === 'simulated') return null;
  const place = [stage.byNight.latitude, stage.byNight.longitude].flatMap((attribute) => figure({ attribute }, plan.assets)?.value ?? []);
  const [latitude, longitude] = place;
  const instant = Math.round(Date.parse(opened.startedAt) + at);
  if (latitude === undefined || longitude === undefined || isNight(instant, latitude, longitude)) return null;
  return { code: 'byDay', values: { stage: stage.title, at: hourAt(instant, opened.offset) } };
}

/**
 * Where a stage that is done by night began or ended by day, asked of the history again: a hold that goes on into the morning is no test.
 * @example ((r) => wrongHours(r.plan, r.state))(exampleOf('suit.inflation', 'inflate')) // []
 */
export function wrongHours(plan: Plan, state: RunState): readonly WrongStand[] {
  const { opened } = state;
  if (!opened) return [];
  return plan.stages.flatMap((stage) =>
    (state.attempts[stage.id] ?? []).flatMap((attempt): readonly WrongStand[] => {
      const reason = byDay(plan, stage, opened, attempt.beganAt) ?? byDay(plan, stage, opened, attempt.endedAt ?? state.at);
      return reason ? [{ stage, attempt: attempt.attempt, reason }] : [];
    }),
  );
}
