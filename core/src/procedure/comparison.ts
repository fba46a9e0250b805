import type { Decimal } from '../quantity';
import type { Comparison } from './language';

/**
 * Compares a figure with its limit, exactly as the operator says: `<` and `>` are strict.
 * @example keeps(decimal(2), '<', decimal(2)) // false
 */
export function keeps(observed: Decimal, op: Comparison, limit: Decimal): boolean {
  switch (op) {
    case '<':
      return observed.lt(limit);
    case '<=':
      return observed.lte(limit);
    case '>':
      return observed.gt(limit);
    case '>=':
      return observed.gte(limit);
  }
}
