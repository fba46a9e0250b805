/** A stream of numbers from 0 (included) to 1 (left out), with the state to go on from. */
export interface Random {
  readonly state: number;
}

/**
 * Mulberry32: small, fast and good enough for noise on a gauge; seeded, so that a run can be made again.
 * @example uniform({ state: 5 })[0] // 0.6897749
 */
export function uniform(random: Random): readonly [number, Random] {
  const state = (random.state + 0x6d2b79f5) >>> 0;
  let t = Math.imul(state ^ (state >>> 15), 1 | state);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return [((t ^ (t >>> 14)) >>> 0) / 4294967296, { state }];
}

/**
 * A standard normal number (Box–Muller, cosine branch).
 * @example gaussian({ state: 5 })[0] // 0.2178946
 */
export function gaussian(random: Random): readonly [number, Random] {
  const [u, a] = uniform(random);
  const [v, b] = uniform(a);
  return [Math.sqrt(-2 * Math.log(1 - u)) * Math.cos(2 * Math.PI * v), b];
}
