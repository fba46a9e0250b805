import { airZ } from './realGas';
import { STANDARD_ATMOSPHERE_PA } from './sensitivity';

/** The state that free air is counted at: 15 °C and 101 325 Pa. */
const FREE_K = 288.15;
const FREE_Z = airZ(STANDARD_ATMOSPHERE_PA, FREE_K);

/**
 * Free air in a cylinder, by the real-gas factor: V_w·(p/Z)·(T_ref/T)·(Z_ref/p_ref).
 * @param waterM3 water capacity, m³
 * @param gaugePa gauge pressure, Pa
 * @returns m³ at 15 °C and 101 325 Pa
 * @example freeAir(6.8e-3, 300e5) * 1000 // 1832.341 L
 */
export function freeAir(waterM3: number, gaugePa: number, temperatureK = FREE_K): number {
  const p = gaugePa + STANDARD_ATMOSPHERE_PA;
  return ((waterM3 * p) / airZ(p, temperatureK)) * (FREE_K / temperatureK) * (FREE_Z / STANDARD_ATMOSPHERE_PA);
}

/** What lasts how long. */
export interface Endurance {
  /** Free air between the two pressures, m³. */
  readonly usableM3: number;
  readonly seconds: number;
  /** The trade's shorthand, water capacity × gauge pressure in bar, for comparison, s. */
  readonly shorthandSeconds: number;
}

/**
 * How long the air lasts down to a pressure.
 * @param rate m³/s of free air; 40 L/min is the design rate of the trade
 * @param downToPa gauge pressure left, Pa
 * @example endurance(6.8e-3, 300e5, 40e-3 / 60).seconds / 60 // 45.63851 min to nothing
 */
export function endurance(waterM3: number, gaugePa: number, rate: number, downToPa = 0, temperatureK = FREE_K): Endurance {
  if (!(rate > 0)) throw new RangeError('a rate must be above 0');
  const usableM3 = freeAir(waterM3, gaugePa, temperatureK) - freeAir(waterM3, downToPa, temperatureK);
  return { usableM3, seconds: usableM3 / rate, shorthandSeconds: (waterM3 * (gaugePa - downToPa)) / 1e5 / rate };
}

/**
 * What a leak costs the wearer: minutes of air lost over a given time at a given rate of breathing.
 * @param leak m³/s of free air
 * @example minutesLost(1e-3 / 60, 40e-3 / 60, 1800) // 0.75
 */
export function minutesLost(leak: number, rate: number, seconds: number): number {
  return (leak * seconds) / rate / 60;
}

/**
 * Gauge pressure of a full, sealed cylinder of real air at another temperature (constant density), Pa.
 * @example pressureAt(300e5, 288.15, 273.15) / 1e5 // 275.1442 bar
 */
export function pressureAt(gaugePa: number, fromK: number, toK: number): number {
  const p = gaugePa + STANDARD_ATMOSPHERE_PA;
  const moles = p / (airZ(p, fromK) * fromK);
  let at = (p * toK) / fromK;
  for (let turn = 0; turn < 100; turn++) {
    const next = moles * airZ(at, toK) * toK;
    if (Math.abs(next - at) < 1e-9 * at) break;
    at = (at + next) / 2;
  }
  return at - STANDARD_ATMOSPHERE_PA;
}
