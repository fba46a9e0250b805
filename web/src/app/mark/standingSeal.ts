import type { Readiness } from '@grellin/contract';
import type { SealKind } from './seal';

/**
 * The ring of an item, by how it stands today and by nothing else: a passing check of one kind must not look like the release of another, and what passed once
 * and is late is not green.
 */
const rings: Readonly<Record<Readiness, SealKind>> = {
  condemned: 'condemned',
  blocked: 'fail',
  heldBack: 'undecided',
  neverTested: 'none',
  checkFirst: 'none',
  overdue: 'late',
  useUp: 'late',
  due: 'pass',
  ready: 'pass',
};

export const standingSeal = (readiness: Readiness): SealKind => rings[readiness];
