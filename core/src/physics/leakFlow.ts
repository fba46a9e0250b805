import { referenceStates, type ReferenceState } from './referenceState';
import { STANDARD_ATMOSPHERE_PA } from './sensitivity';

/** One end of a hold, as physics sees it. */
export interface GasEnd {
  /** Gauge pressure, Pa. */
  readonly gaugePa: number;
  /** Mean gas temperature, K. */
  readonly temperatureK: number;
  /** Barometer, Pa. */
  readonly atmospherePa: number;
}

/**
 * The end of a hold at a gauge pressure, with 20 °C and 1013.25 hPa where nothing else is known.
 * @example gasEnd(1650) // { gaugePa: 1650, temperatureK: 293.15, atmospherePa: 101325 }
 */
export function gasEnd(gaugePa: number, temperatureK = 293.15, atmospherePa = STANDARD_ATMOSPHERE_PA): GasEnd {
  return { gaugePa, temperatureK, atmospherePa };
}

const absolute = (end: GasEnd): number => end.gaugePa + end.atmospherePa;

/**
 * Mean leak over a hold as a flow at a reference state: Q = (p1·V1·T_s/T1 − p2·V2·T_s/T2) ÷ (p_s·Δt), absolute pressures, each end with its own
 * barometer. Positive leaks out; a negative one means that temperature or barometer moved more than the pressure.
 * Source: mole balance of an ideal gas; pressure change method of EN 13184, from memory.
 * @param volumeM3 inside volume at the start, m³
 * @param complianceM3PerPa how much the walls give, m³/Pa; 0 for a rigid vessel
 * @returns m³/s at the reference state
 * @throws RangeError for a time, temperature or volume that is not above 0
 * @example leakFlow(gasEnd(1650), gasEnd(1500), 0.2, 360) * 6e7 // 49.34616 mL/min
 */
export function leakFlow(
  start: GasEnd,
  end: GasEnd,
  volumeM3: number,
  seconds: number,
  reference: ReferenceState = referenceStates.room,
  complianceM3PerPa = 0,
): number {
  if (!(seconds > 0 && volumeM3 > 0 && start.temperatureK > 0 && end.temperatureK > 0)) throw new RangeError('time, volume and temperatures must be above 0');
  const endVolume = volumeM3 - complianceM3PerPa * (start.gaugePa - end.gaugePa);
  const held = (absolute(start) * volumeM3) / start.temperatureK - (absolute(end) * endVolume) / end.temperatureK;
  return (held * reference.temperatureK) / (reference.pressurePa * seconds);
}

/**
 * The loss that is left when the drift of gas temperature and barometer is taken off: the end reading is brought to the start's temperature and barometer.
 * Source: Gay-Lussac.
 * @returns Pa
 * @example correctedLossPa(gasEnd(200000), gasEnd(194860.57, 288.15)) // 0 within 1 Pa: nothing but cooling
 */
export function correctedLossPa(start: GasEnd, end: GasEnd): number {
  return absolute(start) - (absolute(end) * start.temperatureK) / end.temperatureK;
}

/**
 * Volume that a given leak measured at two slopes stands for: V = q·p_s·T ÷ (T_s·(s_k − s_0)); compliance is in it. Slopes in Pa/s, flow at the state, m³/s.
 * @example volumeFromKnownFlow(1e-6, 0.6, 0.1) // 0.20265
 */
export function volumeFromKnownFlow(
  flow: number,
  slopeWith: number,
  slopeWithout: number,
  temperatureK = 293.15,
  state: ReferenceState = referenceStates.room,
): number {
  return (flow * state.pressurePa * temperatureK) / (state.temperatureK * (slopeWith - slopeWithout));
}

/**
 * The gauge pressure at which a laminar leak runs at its mean rate: (p1 − p2) ÷ ln(p1/p2).
 * @example logMeanPressure(500, 250) // 360.6738
 */
export function logMeanPressure(startPa: number, endPa: number): number {
  return startPa === endPa ? startPa : (startPa - endPa) / Math.log(startPa / endPa);
}

/**
 * Rate constant of an exponential decay between two pressures, 1/s.
 * @example decayConstant(500, 250, 360) // 0.001925409
 */
export function decayConstant(startPa: number, endPa: number, seconds: number): number {
  return Math.log(startPa / endPa) / seconds;
}

/**
 * How long until a pressure has fallen to a useful least, at the rate constant of its decay.
 * @returns s; Infinity where nothing is lost
 * @example timeToPressure(300e5, 270e5, decayConstant(300e5, 299e5, 60)) // 1893.327 s
 */
export function timeToPressure(startPa: number, usefulPa: number, lambda: number): number {
  return lambda > 0 ? Math.max(0, Math.log(startPa / usefulPa) / lambda) : Number.POSITIVE_INFINITY;
}

/**
 * How far a pressure sinks after a fast fill while the gas cools: (1 − 1/γ) of the rise, an upper bound.
 * Source: first law for charging a rigid vessel (Moran & Shapiro), from memory.
 * @example settlingDrop(0, 1750) // 500 Pa
 */
export function settlingDrop(fromPa: number, toPa: number): number {
  return (1 - 1 / GAMMA_AIR) * (toPa - fromPa);
}

/**
 * How far a pressure comes back after a quick withdrawal, while the gas that stayed warms again.
 * @param beforePa absolute, Pa
 * @param afterPa absolute, Pa
 * @example rewarmingRise(200e3, 190e3) // 2804.997
 */
export function rewarmingRise(beforePa: number, afterPa: number): number {
  return afterPa * (Math.pow(beforePa / afterPa, (GAMMA_AIR - 1) / GAMMA_AIR) - 1);
}

export const GAMMA_AIR = 1.4;
