import { GAMMA_AIR as g } from './leakFlow';
import { STANDARD_ATMOSPHERE_PA } from './sensitivity';

const R_AIR = 287.05;
/** Discharge coefficient of a sharp-edged hole; it is 0.61 to 0.65 at low pressure and rises to about 0.84 when choked. */
export const SHARP_EDGED = 0.65;
/** Air at 20 °C and 101 325 Pa, kg/m³. */
export const AIR_DENSITY = STANDARD_ATMOSPHERE_PA / (R_AIR * 293.15);
/** Below this pressure ratio the flow is choked. */
export const CRITICAL_RATIO = Math.pow(2 / (g + 1), g / (g - 1));

/**
 * Mass flow of air through one square metre of a hole, choked or not. Linear in the area, so an area follows by division.
 * Source: one-dimensional compressible flow (Shapiro; White), from memory.
 * @param upstreamPa absolute, Pa
 * @returns kg/s for each m²
 * @example massFlux(801325) // 1229.472
 */
export function massFlux(upstreamPa: number, downstreamPa = STANDARD_ATMOSPHERE_PA, temperatureK = 293.15, discharge = SHARP_EDGED): number {
  if (!(upstreamPa > 0 && temperatureK > 0)) throw new RangeError('absolute pressure and temperature must be above 0');
  const r = Math.max(0, Math.min(1, downstreamPa / upstreamPa));
  if (r <= CRITICAL_RATIO) return discharge * upstreamPa * Math.sqrt(g / (R_AIR * temperatureK)) * Math.pow(2 / (g + 1), (g + 1) / (2 * (g - 1)));
  // r^(2/γ) − r^((γ+1)/γ), as −r^(2/γ)·expm1, because the two terms nearly cancel at low pressure
  const term = -Math.pow(r, 2 / g) * Math.expm1(((g - 1) / g) * Math.log(r));
  return discharge * upstreamPa * Math.sqrt(((2 * g) / ((g - 1) * R_AIR * temperatureK)) * term);
}

/**
 * Diameter of the one round sharp-edged hole that would leak as much.
 * @param flow m³/s at 20 °C and 101 325 Pa
 * @param gaugePa gauge pressure inside, Pa
 * @returns m
 * @example equivalentHole(0.2e-3 / 60, 2941.995) // 0.3057824e-3 m: 200 mL/min at 30 cmH2O
 */
export function equivalentHole(flow: number, gaugePa: number, atmospherePa = STANDARD_ATMOSPHERE_PA): number {
  const area = (flow * AIR_DENSITY) / massFlux(gaugePa + atmospherePa, atmospherePa);
  return 2 * Math.sqrt(area / Math.PI);
}

/**
 * Flow through a round hole, m³/s at 20 °C and 101 325 Pa.
 * @example flowThroughHole(0.3057824e-3, 2941.995) * 6e7 // 200
 */
export function flowThroughHole(diameterM: number, gaugePa: number, discharge = SHARP_EDGED): number {
  return ((Math.PI / 4) * diameterM ** 2 * massFlux(gaugePa + STANDARD_ATMOSPHERE_PA, STANDARD_ATMOSPHERE_PA, 293.15, discharge)) / AIR_DENSITY;
}

/**
 * Blow-down constant of a choked leak: p_abs(t) = p_abs,0·e^(−kt) while it is choked.
 * @returns 1/s
 * @example chokedDecayConstant(1e-7, 0.08) // 0.0001613866
 */
export function chokedDecayConstant(areaM2: number, volumeM3: number, temperatureK = 293.15, discharge = SHARP_EDGED): number {
  return ((massFlux(1, 0, temperatureK, discharge) * areaM2) / volumeM3) * R_AIR * temperatureK;
}

/**
 * Flow of a laminar leak through a round capillary, Pa·m³/s: π·d⁴·(p1² − p2²) ÷ (256·μ·L). Source: EN 1779, from memory.
 * @example capillaryThroughput(1e-4, 0.01, 201325) // 0.2048579
 */
export function capillaryThroughput(
  diameterM: number,
  lengthM: number,
  upstreamPa: number,
  downstreamPa = STANDARD_ATMOSPHERE_PA,
  viscosity = 1.813e-5,
): number {
  return (Math.PI * diameterM ** 4 * (upstreamPa ** 2 - downstreamPa ** 2)) / (256 * viscosity * lengthM);
}

/**
 * Flow through a valve by sonic conductance, m³/s at 20 °C and 100 kPa. Source: ISO 6358-1, from memory. C in m³/(s·Pa), absolute pressures in Pa.
 * @example sonicConductanceFlow(1e-8, 0.3, 800e3, 100e3) // 0.008
 */
export function sonicConductanceFlow(c: number, b: number, upstreamPa: number, downstreamPa: number, temperatureK = 293.15): number {
  const ratio = downstreamPa / upstreamPa;
  const choked = c * upstreamPa * Math.sqrt(293.15 / temperatureK);
  return ratio <= b ? choked : choked * Math.sqrt(Math.max(0, 1 - ((ratio - b) / (1 - b)) ** 2));
}
