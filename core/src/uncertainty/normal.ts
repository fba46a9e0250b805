/**
 * The standard normal distribution function Φ(x).
 * Abramowitz & Stegun 26.2 by way of the complementary error function: a Taylor series near zero, where it converges fast and loses nothing,
 * and Lentz's continued fraction in the tails, where 1 − Φ would cancel.
 * @param x any finite number
 * @returns a probability in [0, 1]
 * @example normalCdf(2) // 0.977249868…
 */
export function normalCdf(x: number): number {
  if (Number.isNaN(x)) throw new RangeError('Φ needs a number');
  const z = Math.abs(x);
  const tail = z > 38 ? 0 : z < 2.5 ? 0.5 - density(z) * seriesFactor(z) : density(z) / fraction(z);
  return x < 0 ? tail : 1 - tail;
}

function density(z: number): number {
  return Math.exp(-0.5 * z * z) / Math.sqrt(2 * Math.PI);
}

/** Φ(z) − ½ = φ(z)·(z + z³/3 + z⁵/15 + …), A&S 26.2.11: all terms positive, so nothing cancels. */
function seriesFactor(z: number): number {
  let term = z;
  let sum = z;
  for (let n = 3; term > sum * 1e-17 && n < 400; n += 2) {
    term *= (z * z) / n;
    sum += term;
  }
  return sum;
}

/** 1 − Φ(z) = φ(z) / (z + 1/(z + 2/(z + 3/(z + …)))), A&S 26.2.14, from the inside out. */
function fraction(z: number): number {
  let value = z;
  for (let k = 120; k >= 1; k--) value = z + k / value;
  return value;
}

/** The one-sided 95 % point of the standard normal distribution. */
export const ONE_SIDED_95 = 1.6448536269514722;

/**
 * How many standard uncertainties a gauge "can err" before something else must have happened: one sound reading in 740 goes beyond on one side. At 95 % one
 * perfectly tight item in twenty would be told that it warmed.
 * Source: JCGM 100:2008, G.3 (k = 3), from memory.
 */
export const CAN_ERR = 3;
