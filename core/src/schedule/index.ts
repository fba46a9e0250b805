export { addDays, daysBetween, isInterval, nextDue, type IntervalRule } from './due';
export {
  dueAfter,
  earliestFor,
  endOfMonth,
  hoursBetween,
  lifeEnd,
  mayBeFilled,
  mayStayFilled,
  onTime,
  owedByUse,
  stampValidThrough,
  withinNight,
  type FilledRule,
  type ItemHistory,
  type ScheduleRule,
  type UseTrigger,
} from './rule';
