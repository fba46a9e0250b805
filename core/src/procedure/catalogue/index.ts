import type { Id, Procedure } from '../language';
import { brakesAppliedLoss } from './brakesAppliedLoss';
import { suitInflation } from './suitInflation';

/** Every built-in procedure. */
export const catalogue: readonly Procedure[] = [suitInflation, brakesAppliedLoss];

export function procedureById(id: Id): Procedure | undefined {
  return catalogue.find((p) => p.id === id);
}
