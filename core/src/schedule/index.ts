export { addDays, daysBetween, endOfMonth, intervalIn, isInterval } from './interval';
export {
  countings,
  dueAfter,
  dueChoices,
  earliestFor,
  firstAnchor,
  firstDue,
  ruleOf,
  stamps,
  usualRule,
  type CalendarRule,
  type Counting,
  type DueRule,
  type Stamp,
} from './dueRule';
export { filledRules, mayBeFilled, UNTIL_EMPTIED, usableUntil, type FilledRule } from './filled';
export { lifeEnd, onTime, stampValidThrough } from './life';
export { occasionKinds, owedByUse, triggerInWords, useTriggerRules, useTriggers, type ItemHistory, type OccasionKind, type UseTrigger } from './use';
export { usualChecks, usualChecksOf, type UsualCheck } from './usualChecks';
export { stillAir, type StillAirAdvice, type Weather } from './stillAir';
export { crowded, earliness, flattest, leastEarly, leastSlots, weeksFor, type Crowded, type UnitJob, type Weeks } from './levelling';
export {
  DUE_SOON_DAYS,
  kitShort,
  readiness,
  readinessKinds,
  usable,
  type KitNeed,
  type KitShort,
  type Owed,
  type Readiness,
  type Ready,
  type Standing,
} from './readiness';
export { workPlan, type Placed, type PlanBench, type PlanJob, type PlanRules, type WorkPlan } from './workPlan';
export { mondayOf, weekOf, weeksToTest } from './week';
export { dayAt, isZone, offsetAt, startOfDay, stationDay, stationTime } from './stationDay';
