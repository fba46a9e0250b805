export type { Axle } from './stroke';
export { shownChannels, shownFigures, type CheckItem, type Showing, type Shown } from './check';
export type { GasFacts } from './gas';
export type { Grade, Spot } from './survey';
export type { DecayMeasure, DecayReasons, HoldArithmetic } from './decay';
export { MINUTES, type MethodFacts, type ReasonValues } from './facts';
export type { DecayMethod } from './decay';
export type { HalfLifeMethod } from './halfLife';
export type { MakeUpFlowMethod } from './makeUpFlow';
export type { EventPressureMethod } from './eventPressure';
export type { ElapsedMethod } from './elapsed';
export type { ExpansionMethod } from './expansion';
export type { ReliefMethod } from './relief';
export type { SurveyMethod } from './survey';
export type { StrokeMethod } from './stroke';
export type { CheckMethod } from './check';
export {
  byKind,
  factsOf,
  methodFacts,
  type ByKind,
  type Method,
  type MethodKind,
  type MethodOf,
  type Methods,
  type Reason,
  type ReasonCode,
  type Reasons,
} from './table';
export { WORKING_READ } from './expansion';
export { channelsRead, figuresShownOn, isLook, itemsOf, limitedChannels, methodFigures, routeOf } from './uses';
