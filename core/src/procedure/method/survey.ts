import type { Id, Words } from '../term';
import { MINUTES, type MethodFacts } from './facts';

export interface Spot {
  readonly id: Id;
  readonly text: Words;
  /** One line for whoever does it for the first time. */
  readonly why?: Words;
}

/** How hard a place bubbles, from nothing to a stream that grows with the pressure. */
export type Grade = 'none' | 'fewAtFirst' | 'stream' | 'grows';

/** Places are soaped in the order of the route, each with its grade. */
export interface SurveyMethod {
  readonly kind: 'survey';
  readonly outline: Id;
  readonly route: readonly Spot[];
  /** Parameter: the least time that a place takes to soap and to look at. */
  readonly each?: Id;
}

export interface SurveyReasons {
  bubbles: { readonly spot: Words; readonly grade: Words };
  dry: { readonly places: Words };
  /** It leaks, and no place of the route bubbled. */
  notFound: { readonly places: Words };
}

export const surveyFacts: MethodFacts<SurveyMethod> = {
  findsLeaks: () => true,
  measures: { grade: 'number' },
  reads: () => [],
  figures: (m) => [{ id: m.each, in: 's' }],
  parts: (m) => m.route.map((x) => `spot ${x.id}`),
  minutes: (m) => m.route.length * MINUTES.spot,
};
