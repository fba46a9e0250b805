import type { Readiness } from '@grellin/contract';
import type { Verdict } from '@grellin/core';
import type { SealKind } from './seal';

/**
 * The ring of an item, by how it stands and never by its last test alone: a passing check of one kind must not look like the release of another.
 * @param last the verdict of its last test, where there is one
 */
export function standingSeal(readiness: Readiness, last: Verdict | undefined): SealKind {
  switch (readiness) {
    case 'condemned':
      return 'condemned';
    case 'blocked':
      return 'fail';
    case 'heldBack':
      return 'undecided';
    case 'neverTested':
      return 'none';
    case 'ready':
    case 'due':
    case 'useUp':
      return 'pass';
    case 'overdue':
    case 'checkFirst':
      return last ?? 'none';
  }
}
