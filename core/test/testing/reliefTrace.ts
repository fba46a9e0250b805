/** Mulberry32, as the sheet that the traces come from has it. */
export function mulberry32(seed: number): () => number {
  let a = seed;
  return () => {
    a = (a + 0x6d2b79f5) | 0;
    let t = Math.imul(a ^ (a >>> 15), 1 | a);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

export function normalFrom(random: () => number): () => number {
  return () => {
    const u = 1 - random();
    return Math.sqrt(-2 * Math.log(u)) * Math.cos(2 * Math.PI * random());
  };
}

export interface TraceOptions {
  readonly seed?: number;
  readonly pset?: number;
  readonly reseat?: number;
  readonly R?: number;
  readonly tau?: number;
  readonly pinf?: number;
  readonly R2?: number;
  readonly sigma?: number;
  readonly hum?: number;
  readonly q?: number;
  readonly spikeA?: number;
  readonly tail?: number;
}

/** A pop valve on a bench with rising pressure, 200 times a second: defines the test data draw by draw. */
export function reliefTrace(o: TraceOptions): { readonly trace: Float64Array } {
  const { seed = 1, pset = 10, reseat = 9.2, R = 0.1, tau = 0.6, pinf = 8.6, R2 = 0, tail = 2, sigma = 0.005, q = 0.001, hum = 0.005, spikeA = 0.5 } = o;
  const random = mulberry32(seed);
  const normal = normalFrom(random);
  const dt = 1 / 200;
  const out: number[] = [];
  let p = 0.9 * pset;
  let state: 'rising' | 'open' | 'shut' = 'rising';
  let end = Number.POSITIVE_INFINITY;
  for (let i = 0; i < 200_000; i++) {
    const t = i * dt;
    if (t > end) break;
    let y = p + sigma * normal() + hum * Math.sin(2 * Math.PI * 50 * t);
    if (random() < 0.001) y += spikeA * (random() < 0.5 ? -1 : 1);
    out.push(Math.round(y / q) * q);
    if (state === 'rising') {
      p += R * dt;
      if (p >= pset) [p, state] = [pset, 'open'];
    } else if (state === 'open') {
      p = pinf + (p - pinf) * Math.exp(-dt / tau);
      if (p <= reseat) [p, state, end] = [reseat, 'shut', t + dt + tail];
    } else p += R2 * dt;
  }
  return { trace: Float64Array.from(out) };
}

/** Twenty seconds of a plain rise with spikes. */
export function pureRamp(seed: number): Float64Array {
  const random = mulberry32(seed);
  const normal = normalFrom(random);
  return Float64Array.from({ length: 4000 }, (_, i) => 9 + i * 0.0005 + 0.005 * normal() + (random() < 0.001 ? (random() < 0.5 ? -0.5 : 0.5) : 0));
}
