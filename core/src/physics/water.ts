/** Trade table of water's compressibility by temperature, °C → K. Source: ISO 6406:2005, EN 1968 and BS 5430, annex on volumetric expansion, from memory. */
const table: readonly (readonly [number, number])[] = [
  [6, 0.04915],
  [7, 0.04886],
  [8, 0.0486],
  [9, 0.04834],
  [10, 0.04812],
  [11, 0.04792],
  [12, 0.04775],
  [13, 0.04759],
  [14, 0.04742],
  [15, 0.04725],
  [16, 0.0471],
  [17, 0.04695],
  [18, 0.0468],
  [19, 0.04668],
  [20, 0.04654],
  [21, 0.04643],
  [22, 0.04633],
  [23, 0.04623],
  [24, 0.04613],
  [25, 0.04604],
  [26, 0.04594],
];

/**
 * The table's factor at a water temperature, straight between its rows.
 * @throws RangeError outside 6 to 26 °C: the table must not be stretched
 * @example waterFactor(15) // 0.04725
 */
export function waterFactor(celsius: number): number {
  const above = table.findIndex(([t]) => t >= celsius);
  const high = table[above];
  if (!high || celsius < 6) throw new RangeError('the water table runs from 6 to 26 °C');
  const low = table[above - 1];
  if (high[0] === celsius || !low) return high[1];
  return low[1] + ((high[1] - low[1]) * (celsius - low[0])) / (high[0] - low[0]);
}

/**
 * How much the water itself gives way under pressure: C = W·P·(K − 0.68·P/10⁵).
 * Source: as the table.
 * @param massKg all the water in the cylinder at test pressure, what was forced in included
 * @param pressureBar gauge pressure, bar
 * @returns cm³
 * @example waterCompression(115.545, 232, 15) // 1224.3145
 */
export function waterCompression(massKg: number, pressureBar: number, celsius: number): number {
  return massKg * pressureBar * (waterFactor(celsius) - (0.68 * pressureBar) / 1e5);
}

/**
 * Density of air-free water at atmospheric pressure.
 * Source: Tanaka et al., Metrologia 38 (2001), the CIPM formula; from memory.
 * @param celsius 0 to 40 °C
 * @returns kg/m³
 * @throws RangeError outside that
 * @example waterDensity(20) // 998.20675
 */
export function waterDensity(celsius: number): number {
  if (!(celsius >= 0 && celsius <= 40)) throw new RangeError('the density of water is known from 0 to 40 °C');
  return 999.97495 * (1 - ((celsius - 3.983035) ** 2 * (celsius + 301.797)) / (522528.9 * (celsius + 69.34881)));
}

/** Air at the balance, and the weights that it was adjusted with, kg/m³. Source: OIML D 28, conventional mass. */
const AIR = 1.2;
const WEIGHTS = 8000;

/**
 * The volume of water that a balance shows a weight of, weighed in air.
 * @param grams what it shows, g
 * @param celsius the water's temperature, 0 to 40 °C
 * @returns mL
 * @throws RangeError outside that
 * @example weighedWater(100, 20) // 100.28518
 */
export function weighedWater(grams: number, celsius: number): number {
  const density = waterDensity(celsius);
  return (grams * (1 - AIR / WEIGHTS)) / ((density - AIR) / 1000);
}

/**
 * Elastic expansion of a thick-walled cylinder with closed ends as a share of its volume: P ÷ (E(k²−1))·[3(1−2ν) + 2(1+ν)k²].
 * Source: Lamé; Roark, from memory.
 * @param ratio outside over inside diameter
 * @example elasticShare(300e5, 1.1) // 0.00299931
 */
export function elasticShare(pressurePa: number, ratio: number, youngPa = 207e9, poisson = 0.3): number {
  const k2 = ratio * ratio;
  return (pressurePa / (youngPa * (k2 - 1))) * (3 * (1 - 2 * poisson) + 2 * (1 + poisson) * k2);
}
