import type { Id, Procedure } from '../language';
import { anaesCircle, anaesCoaxialD, anaesMachine, anaesMaplesonA, anaesTPiece } from './anaesthesia';
import { baFacepiece, baHighPressure, baSoapSurvey, baUserCheck } from './breathingApparatus';
import { brakesAppliedLoss } from './brakesAppliedLoss';
import { brakesWhole } from './brakesWhole';
import { cylDirectExpansion, cylVisual, cylWaterJacket } from './cylinders';
import { drySuitSurvey } from './drySuit';
import { storeHalfLife } from './sealedStore';
import { suitInflation } from './suitInflation';
import { tankCargo, tankIbc, tankVapour10, tankVapour2 } from './tanks';
import { valveRelief, valveVent } from './valves';

/** Every built-in procedure. */
export const catalogue: readonly Procedure[] = [
  baUserCheck,
  baSoapSurvey,
  baHighPressure,
  baFacepiece,
  suitInflation,
  drySuitSurvey,
  anaesMachine,
  anaesCircle,
  anaesTPiece,
  anaesMaplesonA,
  anaesCoaxialD,
  brakesAppliedLoss,
  brakesWhole,
  cylWaterJacket,
  cylDirectExpansion,
  cylVisual,
  tankIbc,
  tankVapour10,
  tankVapour2,
  tankCargo,
  valveVent,
  valveRelief,
  storeHalfLife,
];

/**
 * @example procedureById('suit.inflation')?.title // 'Gas-tight suit, inflation test'
 */
export function procedureById(id: Id): Procedure | undefined {
  return catalogue.find((p) => p.id === id);
}
