import { STANDARD_ATMOSPHERE_PA } from './sensitivity';

/** Clearance and exponent of a reciprocating compressor; plausible, of no standard. */
const CLEARANCE = 0.06;
const EXPONENT = 1.25;

/**
 * Volumetric efficiency of a reciprocating compressor: 1 + c − c·(p/p_atm)^(1/n).
 * Source: Çengel & Boles, reciprocating compressors, from memory; c and n by common practice.
 * @example compressorEfficiency(100 * 6894.757) // 0.7495
 */
export function compressorEfficiency(gaugePa: number): number {
  return 1 + CLEARANCE - CLEARANCE * Math.pow((gaugePa + STANDARD_ATMOSPHERE_PA) / STANDARD_ATMOSPHERE_PA, 1 / EXPONENT);
}

/**
 * Pressure rise of an isothermal tank that a compressor fills, Pa/s. `sweptM3S` is swept volume times speed.
 * @example compressorRise(0, 0.004, 0.08) // 5066.25
 */
export function compressorRise(gaugePa: number, sweptM3S: number, tankM3: number): number {
  return (STANDARD_ATMOSPHERE_PA * sweptM3S * compressorEfficiency(gaugePa)) / tankM3;
}

/**
 * Gauge pressure some seconds on under a choked leak of constant k (1/s of absolute pressure), Pa.
 * @example chokedLeak(689475.7, 0.001, 60) // 643423.1
 */
export function chokedLeak(gaugePa: number, k: number, seconds: number): number {
  return (gaugePa + STANDARD_ATMOSPHERE_PA) * Math.exp(-k * seconds) - STANDARD_ATMOSPHERE_PA;
}

/**
 * Reservoir pressure after a full application: the air spreads over reservoir, lines and chambers.
 * @param deadM3 lines and chamber at no stroke, at the atmosphere before
 * @param sweptM3 swept by the strokes
 * @example afterApplication(689475.7, 0.08, 0.002, 0.006) // 619887.6
 */
export function afterApplication(gaugePa: number, tankM3: number, deadM3: number, sweptM3: number): number {
  const p = gaugePa + STANDARD_ATMOSPHERE_PA;
  return (p * tankM3 + STANDARD_ATMOSPHERE_PA * deadM3) / (tankM3 + deadM3 + sweptM3) - STANDARD_ATMOSPHERE_PA;
}

/**
 * A fall over a minute brought to the pressure that a rule was written for: a choked leak goes with absolute pressure.
 * @example lossAtPressure(3.388891, 116.5699, 100) // 2.961106, in psi
 */
export function lossAtPressure(lossPsi: number, startPsi: number, wantedPsi: number): number {
  const atmosphere = STANDARD_ATMOSPHERE_PA / 6894.757293168361;
  return (lossPsi * (wantedPsi + atmosphere)) / (startPsi + atmosphere);
}

/**
 * Share of the spring brakes' force at a hold-off line pressure, 0 to 1, straight between full on and released.
 * @example springBrakeShare(300e3, 400e3, 200e3) // 0.5
 */
export function springBrakeShare(lineGaugePa: number, releasedPa: number, fullPa: number): number {
  return Math.min(1, Math.max(0, (releasedPa - lineGaugePa) / (releasedPa - fullPa)));
}
