export { CHECK_EDITION, checkAnswered } from './check';
export { DECAY_EDITION } from './decay';
export { endReading, holdTimes, judgedChannels, startUnmet, type HoldTimes } from './decayHold';
export { keeps } from './decide';
export { judgeStage } from './judgeStage';
export type * from './record';
export { milliseconds, readingAt, START, stepUnmet, waitingSince } from './steps';
