/**
 * Density and compression of pure water: the international equation of state of sea water at no salinity. It is not the trade's table, on purpose:
 * what makes the readings must not be what judges them.
 * Source: Fofonoff & Millard, UNESCO Technical Paper 44 (EOS-80), from memory.
 * @example pureWaterDensity(4) // 999.975
 */
export function pureWaterDensity(celsius: number): number {
  const t = celsius;
  return 999.842594 + t * (6.793952e-2 + t * (-9.09529e-3 + t * (1.001685e-4 + t * (-1.120083e-6 + t * 6.536332e-9))));
}

/**
 * Secant bulk modulus of pure water, bar.
 * @example pureWaterModulus(0, 20) // 21790.37
 */
export function pureWaterModulus(bar: number, celsius: number): number {
  const t = celsius;
  const k = 19652.21 + t * (148.4206 + t * (-2.327105 + t * (1.360477e-2 - t * 5.155288e-5)));
  const a = 3.239908 + t * (1.43713e-3 + t * (1.16092e-4 - t * 5.77905e-7));
  const b = 8.50935e-5 + t * (-6.12293e-6 + t * 5.2787e-8);
  return k + bar * (a + bar * b);
}

/**
 * How much a mass of water gives way under pressure, m³.
 * @example waterGives(10, 300, 20) // 0.0001319193
 */
export function waterGives(massKg: number, bar: number, celsius: number): number {
  return (massKg / pureWaterDensity(celsius)) * (bar / pureWaterModulus(bar, celsius));
}
