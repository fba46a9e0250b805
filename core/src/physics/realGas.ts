/** Residual Helmholtz energy of dry air: coefficient, powers of density and of inverse temperature, power in the exponential. */
const terms: readonly (readonly [number, number, number, number])[] = [
  [0.118160747229, 1, 0, 0],
  [0.713116392079, 1, 0.33, 0],
  [-1.61824192067, 1, 1.01, 0],
  [0.0714140178971, 2, 0, 0],
  [-0.0865421396646, 3, 0, 0],
  [0.134211176704, 3, 0.15, 0],
  [0.0112626704218, 4, 0, 0],
  [-0.0420533228842, 4, 0.2, 0],
  [0.0349008431982, 4, 0.35, 0],
  [0.000164957183186, 6, 1.35, 0],
  [-0.101365037912, 1, 1.6, 1],
  [-0.17381369097, 3, 0.8, 1],
  [-0.0472103183731, 5, 0.95, 1],
  [-0.0122523554253, 6, 1.25, 1],
  [-0.146629609713, 1, 3.6, 2],
  [-0.0316055879821, 3, 6, 2],
  [0.000233594806142, 11, 3.25, 2],
  [0.0148287891978, 1, 3.5, 3],
  [-0.00938782884667, 3, 15, 3],
];
const R = 8.31451;
const REDUCING_K = 132.6312;
const REDUCING_MOL_M3 = 10447.7;

function compressibility(delta: number, tau: number): number {
  let z = 1;
  for (const [n, i, j, l] of terms) {
    const term = n * Math.pow(delta, i) * Math.pow(tau, j);
    z += l === 0 ? i * term : term * Math.exp(-Math.pow(delta, l)) * (i - l * Math.pow(delta, l));
  }
  return z;
}

/**
 * Compressibility factor Z of dry air by its density: what is known of a closed vessel.
 * Source: as `airZ`.
 * @param molPerM3 0 to 17 000
 * @param temperatureK 250 to 350 K
 * @throws RangeError outside those ranges
 * @example airZOfDensity(0, 288.15) // 1
 * @example airZOfDensity(11372.5526, 288.15) // 1.101052
 */
export function airZOfDensity(molPerM3: number, temperatureK: number): number {
  if (!(molPerM3 >= 0 && molPerM3 <= 17_000)) throw new RangeError('air is known here up to 17 000 mol/m³');
  if (!(temperatureK >= 250 && temperatureK <= 350)) throw new RangeError('air is known here from 250 to 350 K');
  return compressibility(molPerM3 / REDUCING_MOL_M3, REDUCING_K / temperatureK);
}

/**
 * Compressibility factor Z of dry air.
 * Source: Lemmon, Jacobsen, Penoncello & Friend, J. Phys. Chem. Ref. Data 29 (2000) 331, coefficients from memory.
 * @param pressurePa absolute, 0 to 40 MPa
 * @param temperatureK 250 to 350 K
 * @throws RangeError outside those ranges
 * @example airZ(300e5, 288.15) // 1.101052
 */
export function airZ(pressurePa: number, temperatureK: number): number {
  if (!(pressurePa >= 0 && pressurePa <= 4e7)) throw new RangeError('air is known here from 0 to 40 MPa');
  if (!(temperatureK >= 250 && temperatureK <= 350)) throw new RangeError('air is known here from 250 to 350 K');
  const ideal = pressurePa / (R * temperatureK * REDUCING_MOL_M3);
  const tau = REDUCING_K / temperatureK;
  // Fixed point δ = δ_ideal ÷ Z(δ), halved steps: Z lies near 1 here, so it converges without a derivative.
  let delta = ideal;
  for (let turn = 0; turn < 200; turn++) {
    const next = ideal / compressibility(delta, tau);
    if (Math.abs(next - delta) <= 1e-14 * Math.max(ideal, 1e-12)) break;
    delta = (delta + next) / 2;
  }
  return compressibility(delta, tau);
}
