export {
  assetClass,
  assetClasses,
  attributeInWords,
  attributesOf,
  INSTRUMENT_CLASS,
  oddAttributes,
  partKinds,
  type AssetClass,
  type AttributeKind,
  type AttributeRow,
  type Choice,
  type OddAttribute,
  type Plausible,
} from './assetClass';
export { catalogue, procedureById } from './catalogue';
export { checkProcedure, type ProcedureFlaw } from './checkProcedure';
export { keeps } from './comparison';
export { attributeOf, figure, holds, unknownFor, unknownIn, type Attributes, type AttributesByRole, type AttributeValue } from './condition';
export { allFormulas, formulaById, type Formula } from './formula';
export type * from './language';
export { everyCase } from './everyCase';
export { channelsOf, figuresOf, stepChannels } from './stageFigures';
export { byKind, channelsRead, factsOf, figuresShownOn, isLook, itemsOf, limitedChannels, methodFacts, routeOf, shownChannels } from './method';
export { measures } from './term';
export {
  figureOf,
  channelsUsed,
  mainRole,
  makePlan,
  strict,
  suitedRuleSet,
  unknownAttributes,
  valuesOf,
  type Plan,
  type PlanRefusal,
  type PlanResult,
  type ResolvedLimit,
} from './plan';
export { lackOf, mendMark, mendOf, neverFor, reachedNever, standsAtFirst, turnsOf, wayOf, type Turn } from './setUp';
export { commonPractice, fromMemory } from './source';
export { askedOfEach, countsOf, leastOf, listsUsed, originOf, toldInWords, unroll, type ListRefusal, type Lists, type ToldList, type Unrolled } from './unroll';
export { usualMinutes } from './usualMinutes';
