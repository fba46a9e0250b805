export { addDays, daysBetween, isInterval, nextDue, type IntervalRule } from './due';
