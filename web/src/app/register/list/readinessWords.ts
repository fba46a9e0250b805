import type { Readiness } from '@grellin/contract';

/** A state of readiness in a table's words. */
export const readinessWords: Readonly<Record<Readiness, string>> = {
  condemned: 'condemned',
  blocked: 'blocked',
  heldBack: 'held back',
  overdue: 'late',
  checkFirst: 'check before use',
  useUp: 'use up, not fill',
  due: 'due',
  ready: 'ready',
  neverTested: 'not yet tested',
};

/** The same, as the heading of an item's page. */
export const readinessHeading: Readonly<Record<Readiness, string>> = {
  condemned: 'Condemned: never to be used again',
  blocked: 'Not to be used',
  heldBack: 'Held back: its test came to no result',
  overdue: 'Check is late',
  checkFirst: 'Check before use',
  useUp: 'Use up, do not fill',
  due: 'Check falls due',
  ready: 'Ready',
  neverTested: 'Not yet tested: not to be used',
};
