/** Reference conditions that are used, and named, where none were given. */
export const REFERENCE_TEMPERATURE_K = 293.15;
export const STANDARD_ATMOSPHERE_PA = 101_325;

/**
 * How far the gauge pressure of sealed, rigid, dry gas moves for each kelvin: dp/dT = p_abs ÷ T.
 * Source: ideal gas law (Gay-Lussac).
 * @param gaugePa gauge pressure, Pa
 * @returns Pa/K
 * @example pressurePerKelvin(1650) // 351.2707 at 20 °C and 1013.25 hPa
 */
export function pressurePerKelvin(gaugePa: number, temperatureK = REFERENCE_TEMPERATURE_K, atmospherePa = STANDARD_ATMOSPHERE_PA): number {
  if (!(temperatureK > 0)) throw new RangeError('a gas temperature must be above 0 K');
  return (gaugePa + atmospherePa) / temperatureK;
}

/**
 * The drift of the gas temperature that alone would equal a permitted loss.
 * @param gaugePa gauge pressure at the start, Pa
 * @param lossPa permitted loss, Pa
 * @returns K
 * @example driftEqualToLoss(1650, 300) // 0.8540422
 */
export function driftEqualToLoss(gaugePa: number, lossPa: number, temperatureK = REFERENCE_TEMPERATURE_K, atmospherePa = STANDARD_ATMOSPHERE_PA): number {
  return lossPa / pressurePerKelvin(gaugePa, temperatureK, atmospherePa);
}
