export { afterApplication, chokedLeak, compressorEfficiency, compressorRise, lossAtPressure, springBrakeShare } from './airBrake';
export { bagSize, type BagAdvice } from './bag';
export { endurance, freeAir, minutesLost, pressureAt, type Endurance } from './contents';
export {
  correctedLossPa,
  decayConstant,
  gasEnd,
  leakFlow,
  logMeanPressure,
  rewarmingRise,
  settlingDrop,
  timeToPressure,
  volumeFromKnownFlow,
  type GasEnd,
} from './leakFlow';
export {
  AIR_DENSITY,
  capillaryThroughput,
  chokedDecayConstant,
  CRITICAL_RATIO,
  equivalentHole,
  flowThroughHole,
  massFlux,
  SHARP_EDGED,
  sonicConductanceFlow,
} from './orifice';
export { airZ, airZOfDensity } from './realGas';
export { isNight } from './night';
export { referenceStates, type ReferenceState } from './referenceState';
export { driftEqualToLoss, pressurePerKelvin, REFERENCE_TEMPERATURE_K, STANDARD_ATMOSPHERE_PA } from './sensitivity';
export { leastFillMinutes, leastUllageTwoInch, ullageSum, type TankFill, type UllageSum } from './ullage';
export { elasticShare, waterCompression, waterDensity, weighedWater, waterFactor } from './water';
