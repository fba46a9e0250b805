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
export { checkProcedure } from './checkProcedure';
export type { ProcedureFlaw } from './checkTerms';
export { drawingById, drawings, drawingSvg, type Drawing, type DrawingLabel, type Stroke, type StrokeRole } from './drawing';
export { keeps } from './comparison';
export { attributeOf, figure, holds, unknownFor, unknownIn, type Attributes, type AttributesByRole, type AttributeValue } from './condition';
export { allFormulas, formulaById, type Formula } from './formula';
export type * from './language';
export {
  oddFigures,
  tableFlaws,
  tableKind,
  tableKinds,
  tableNamed,
  tableOn,
  tablesInWords,
  tablesUsed,
  unnamedTables,
  writtenOut,
  type FigureTable,
  type TableFlaw,
  type TableKind,
  type TableLine,
  type Tables,
} from './figureTable';
export { everyCase } from './everyCase';
export { channelsOf, figuresOf, stepChannels } from './stageFigures';
export { byKind, WORKING_READ, channelsRead, factsOf, figuresShownOn, isLook, itemsOf, limitedChannels, methodFacts, routeOf, shownChannels } from './method';
export { measures } from './term';
export { channelsUsed, mainRole, mustBeFitted, strict, suitedRuleSet, unknownAttributes, valuesOf } from './askedOf';
export { figureOf, makePlan, type OfTheDay, type Plan, type PlanResult, type ProvedStage, type ResolvedLimit, type RunProof } from './plan';
export type { PlanRefusal } from './planLack';
export { lackOf, mendMark, mendOf, neverFor, reachedNever, standsAtFirst, turnsOf, wayOf, type Turn } from './setUp';
export { commonPractice, fromMemory } from './source';
export { askedOfEach, countsOf, leastOf, listsUsed, originOf, toldInWords, unroll, type ListRefusal, type Lists, type ToldList, type Unrolled } from './unroll';
export { usualMinutes } from './usualMinutes';
