export { addDays, daysBetween, isInterval, nextDue, type IntervalRule } from './due';
export {
  dueAfter,
  earliestFor,
  endOfMonth,
  hoursBetween,
  lifeEnd,
  mayBeFilled,
  FILLED_MONTHS,
  occasionKinds,
  onTime,
  owedByUse,
  stampValidThrough,
  triggerInWords,
  UNTIL_EMPTIED,
  usableUntil,
  useTriggers,
  withinNight,
  type FilledRule,
  type ItemHistory,
  type OccasionKind,
  type ScheduleRule,
  type UseTrigger,
} from './rule';
export { stillAir, type StillAirAdvice, type Weather } from './stillAir';
export { crowded, earliness, flattest, leastEarly, leastSlots, weeksFor, type Crowded, type UnitJob, type Weeks } from './levelling';
export { DUE_SOON_DAYS, kitShort, readiness, usable, type KitNeed, type KitShort, type Owed, type Readiness, type Ready, type Standing } from './readiness';
export { workPlan, type Placed, type PlanBench, type PlanJob, type PlanRules, type WorkPlan } from './workPlan';
export { mondayOf, weekOf, weeksToTest } from './week';
export { dayAt, isZone, offsetAt, startOfDay, stationDay, stationTime } from './stationDay';
