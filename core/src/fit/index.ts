export { fitDecay, halfLifeOf, logFit, reweightedLogFit, type DecayFit, type Interval, type Points } from './decayFit';
export { leastSquares, type Fitted, type Model } from './leastSquares';
export { findLifts, type Lift, type Lifts } from './lift';
export { chanceAtLeast, predict, type Prediction } from './prediction';
export { fitSettling, settled, settlingWait, type SettlingFit } from './settling';
export { fTail, studentCdf, studentQuantile } from './student';
export { valueAt } from './valueAt';
