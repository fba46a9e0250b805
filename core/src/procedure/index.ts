export { assetClass, assetClasses, type AssetClass, type AttributeKind, type AttributeRow } from './assetClass';
export { catalogue, procedureById } from './catalogue';
export { checkProcedure, type ProcedureFlaw } from './checkProcedure';
export { attributeOf, figure, holds, type Attributes, type AttributesByRole, type AttributeValue } from './condition';
export type * from './language';
export { figureOf, makePlan, suitedRuleSet, type Plan, type PlanRefusal, type PlanResult, type ResolvedLimit } from './plan';
export { commonPractice, fromMemory } from './source';
