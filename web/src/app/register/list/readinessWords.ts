import type { Readiness } from '@grellin/contract';

/** A state of readiness in a table's words. */
export const readinessWords: Readonly<Record<Readiness, string>> = {
  blocked: 'blocked',
  overdue: 'late',
  checkFirst: 'check before use',
  useUp: 'use up, not fill',
  due: 'due',
  ready: 'ready',
  neverTested: 'never tested',
};

/** The same, as the heading of an item's page. */
export const readinessHeading: Readonly<Record<Readiness, string>> = {
  blocked: 'Not to be used',
  overdue: 'Check is late',
  checkFirst: 'Check before use',
  useUp: 'Use up, do not fill',
  due: 'Check falls due',
  ready: 'Ready',
  neverTested: 'Never tested',
};
