import { checkFacts, type CheckMethod, type CheckReasons } from './check';
import { decayFacts, type DecayMethod, type DecayReasons } from './decay';
import { elapsedFacts, type ElapsedMethod, type ElapsedReasons } from './elapsed';
import { eventPressureFacts, type EventPressureMethod, type EventPressureReasons } from './eventPressure';
import { expansionFacts, type ExpansionMethod, type ExpansionReasons } from './expansion';
import { halfLifeFacts, type HalfLifeMethod, type HalfLifeReasons } from './halfLife';
import { makeUpFlowFacts, type MakeUpFlowMethod, type MakeUpFlowReasons } from './makeUpFlow';
import { reliefFacts, type ReliefMethod, type ReliefReasons } from './relief';
import { strokeFacts, type StrokeMethod, type StrokeReasons } from './stroke';
import { surveyFacts, type SurveyMethod, type SurveyReasons } from './survey';
import type { MethodFacts } from './facts';
import type { CommonReasons } from './reasons';

/** The methods that this edition of the core can judge, by kind: the one place where they are listed. `core/method` has what each asks for and finds. */
export interface Methods {
  decay: { document: DecayMethod; reasons: DecayReasons };
  halfLife: { document: HalfLifeMethod; reasons: HalfLifeReasons };
  makeUpFlow: { document: MakeUpFlowMethod; reasons: MakeUpFlowReasons };
  eventPressure: { document: EventPressureMethod; reasons: EventPressureReasons };
  elapsed: { document: ElapsedMethod; reasons: ElapsedReasons };
  expansion: { document: ExpansionMethod; reasons: ExpansionReasons };
  relief: { document: ReliefMethod; reasons: ReliefReasons };
  survey: { document: SurveyMethod; reasons: SurveyReasons };
  stroke: { document: StrokeMethod; reasons: StrokeReasons };
  check: { document: CheckMethod; reasons: CheckReasons };
}

export type MethodKind = keyof Methods;
export type MethodOf<K extends MethodKind> = Methods[K]['document'];
export type Method = MethodOf<MethodKind>;

/** The facts of every method. */
export const methodFacts: { readonly [K in MethodKind]: MethodFacts<MethodOf<K>> } = {
  decay: decayFacts,
  halfLife: halfLifeFacts,
  makeUpFlow: makeUpFlowFacts,
  eventPressure: eventPressureFacts,
  elapsed: elapsedFacts,
  expansion: expansionFacts,
  relief: reliefFacts,
  survey: surveyFacts,
  stroke: strokeFacts,
  check: checkFacts,
};

type UnionToIntersection<U> = (U extends unknown ? (u: U) => void : never) extends (i: infer I) => void ? I : never;

/** The values of every reason, by its code. */
export type Reasons = CommonReasons & UnionToIntersection<Methods[MethodKind]['reasons']>;
export type ReasonCode = keyof Reasons;
/** Why something was found so: a code with its values. The wording stands apart from it (`run/reasonWords.ts`). */
export type Reason = { readonly [C in ReasonCode]: { readonly code: C; readonly values: Readonly<Reasons[C]> } }[ReasonCode];

/** Something for some kinds of method: each takes its own document. */
export type ByKind<A extends readonly unknown[], R> = { readonly [K in MethodKind]: (method: MethodOf<K>, ...more: A) => R };

/**
 * What a table has for a method; undefined where it has nothing for its kind. The table is keyed by the kind, so what it holds there takes that kind.
 * @example byKind({ check: (m) => m.items.length }, { kind: 'check', items: [] }) // 0
 */
export function byKind<A extends readonly unknown[], R>(table: ByKind<A, R>, method: Method, ...more: A): R;
export function byKind<A extends readonly unknown[], R>(table: Partial<ByKind<A, R>>, method: Method, ...more: A): R | undefined;
export function byKind<A extends readonly unknown[], R>(table: Partial<ByKind<A, R>>, method: Method, ...more: A): R | undefined {
  const found = table[method.kind] as ((method: Method, ...more: A) => R) | undefined;
  return found?.(method, ...more);
}

/**
 * @returns the facts of a method's kind
 * @example factsOf({ kind: 'check', items: [] }) === methodFacts.check // true
 */
export function factsOf(method: Method): MethodFacts<Method> {
  return methodFacts[method.kind] as MethodFacts<Method>;
}
