import type { Id, Procedure } from '../language';
import { anaesAutomatic, anaesCircle, anaesCoaxialD, anaesMachine, anaesMaplesonA, anaesTPiece } from './anaesthesia';
import { baFacepiece, baHighPressure, baSoapSurvey, baUserCheck } from './breathingApparatus';
import { brakesAppliedLoss } from './brakesAppliedLoss';
import { brakesCab } from './brakesCab';
import { brakesStrokes } from './brakesStrokes';
import { brakesWhole } from './brakesWhole';
import { cylDirectExpansion, cylVisual, cylWaterJacket } from './cylinders';
import { drySuitSurvey } from './drySuit';
import { storeHalfLife } from './sealedStore';
import { suitInflation } from './suitInflation';
import { tankCargo, tankIbc, tankIbcLook, tankVapour10, tankVapour2 } from './tanks';
import { valveRelief, valveVent } from './valves';
import { withWhy } from './why';

const documents: readonly Procedure[] = [
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
  anaesAutomatic,
  brakesAppliedLoss,
  brakesWhole,
  brakesStrokes,
  brakesCab,
  cylWaterJacket,
  cylDirectExpansion,
  cylVisual,
  tankIbc,
  tankIbcLook,
  tankVapour10,
  tankVapour2,
  tankCargo,
  valveVent,
  valveRelief,
  storeHalfLife,
];

/** Every built-in procedure. */
export const catalogue: readonly Procedure[] = documents.map(withWhy);

/**
 * @example procedureById('suit.inflation')?.title // 'Gas-tight suit, inflation test'
 */
export function procedureById(id: Id): Procedure | undefined {
  return catalogue.find((p) => p.id === id);
}
