export type { Instruments } from './attempted';
export { endReading, holdTimes, judgedChannels, type HoldTimes } from './decayHold';
export { expectedEnd, type ExpectedEnd } from './expectedEnd';
export { judgeStage } from './judgeStage';
export { methodEditions, taskOf } from './methods';
export type * from './record';
export { milliseconds, readingAt, START, stepUnmet, waitingSince } from './steps';
export { grades } from './survey';
export type { Task } from './task';
