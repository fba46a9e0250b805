import { valueAt } from './valueAt';
import { hinge, type Hinge } from './hinge';
import { fTail } from './student';

/** One opening and shutting of a valve, found in a trace. Places are in samples, fractions between them. */
export interface Lift {
  readonly crack: number;
  readonly crackAt: number;
  /** Null when the valve had not shut by the end of the trace, or opened so gently that nothing fell. */
  readonly reseat: number | null;
  readonly reseatAt: number | null;
}

export interface Lifts {
  /** Standard deviation of the noise. */
  readonly noise: number;
  readonly lifts: readonly Lift[];
  /** The pressure never fell, it only rose more slowly: a valve that opens in proportion. */
  readonly proportional: boolean;
}

/** Thresholds of the search, tuned on simulated traces; engineering choice, of no standard. */
const NORMAL_MAD = 1.4826;
const SPIKE = 4;
const HALF_WINDOW = 4;
const DROP_NOISE = 8;
const DROP_SPAN = 0.005;
const CONFIRM_S = 0.05;
const LEFT_S = 0.5;
const SLOPE_S = 0.1;
const SLOW_SHARE = 0.15;
const SLOW_S = 0.2;
const BEFORE_RESEAT_S = 0.3;
const AFTER_RESEAT_S = 0.5;

/** The k-th smallest of an array, which is reordered: Hoare's selection, linear on average where a sort would be the slowest step. */
function selected(values: Float64Array, k: number): number {
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const pivot = valueAt(values, (low + high) >> 1);
    let i = low;
    let j = high;
    while (i <= j) {
      while (valueAt(values, i) < pivot) i++;
      while (valueAt(values, j) > pivot) j--;
      if (i <= j) {
        const kept = valueAt(values, i);
        values[i] = valueAt(values, j);
        values[j] = kept;
        i++;
        j--;
      }
    }
    if (k <= j) high = j;
    else if (k >= i) low = i;
    else break;
  }
  return valueAt(values, k);
}

function noiseOf(p: Float64Array): number {
  const steps = new Float64Array(Math.max(0, p.length - 1));
  for (let i = 0; i < steps.length; i++) steps[i] = Math.abs(valueAt(p, i + 1) - valueAt(p, i));
  return steps.length === 0 ? 0 : (NORMAL_MAD * selected(steps, steps.length >> 1)) / Math.SQRT2;
}

/** The middle one of nine, which are put in order: by insertion, because nine are too few for a sort to be worth its call. */
function middleOf(nine: Float64Array): number {
  for (let i = 1; i < nine.length; i++) {
    const v = valueAt(nine, i);
    let k = i - 1;
    for (; k >= 0 && valueAt(nine, k) > v; k--) nine[k + 1] = valueAt(nine, k);
    nine[k + 1] = v;
  }
  return valueAt(nine, HALF_WINDOW);
}

/** Replaces lone spikes by the median of their neighbours. Source: Hampel identifier (Huber & Ronchetti, Robust Statistics), from memory. */
function withoutSpikes(p: Float64Array, noise: number): Float64Array {
  const out = p.slice();
  const most = SPIKE * noise;
  const window = new Float64Array(2 * HALF_WINDOW + 1);
  if (p.length < window.length) return out;
  for (let i = 0; i < p.length; i++) {
    const here = valueAt(p, i);
    // At the ends the window stands still and the sample is not its middle one.
    const first = Math.min(Math.max(0, i - HALF_WINDOW), p.length - window.length);
    // When five of the nine lie within the threshold, the median does too: nothing to replace, and nothing to sort.
    let near = 0;
    for (let k = first; k < first + window.length && near <= HALF_WINDOW; k++) if (Math.abs(valueAt(p, k) - here) <= most) near++;
    if (near > HALF_WINDOW) continue;
    for (let k = 0; k < window.length; k++) window[k] = valueAt(p, first + k);
    const middle = middleOf(window);
    if (Math.abs(here - middle) <= most) continue;
    for (let k = 0; k < window.length; k++) window[k] = Math.abs(valueAt(window, k) - middle);
    const mad = NORMAL_MAD * middleOf(window);
    if (Math.abs(here - middle) > SPIKE * mad) out[i] = middle;
  }
  return out;
}

/** Sums from the start, so that any stretch's mean and slope cost the same. */
interface Sums {
  readonly y: Float64Array;
  readonly iy: Float64Array;
}

function sumsOf(p: Float64Array): Sums {
  const y = new Float64Array(p.length + 1);
  const iy = new Float64Array(p.length + 1);
  for (let i = 0; i < p.length; i++) {
    const v = valueAt(p, i);
    y[i + 1] = valueAt(y, i) + v;
    iy[i + 1] = valueAt(iy, i) + i * v;
  }
  return { y, iy };
}

/** Least-squares slope over samples from..to (both included), a sample. */
function slope({ y, iy }: Sums, from: number, to: number): number {
  const n = to - from + 1;
  const sy = valueAt(y, to + 1) - valueAt(y, from);
  const siy = valueAt(iy, to + 1) - valueAt(iy, from);
  return (siy - ((from + to) / 2) * sy) / ((n * (n * n - 1)) / 12);
}

interface Search {
  readonly p: Float64Array;
  readonly sums: Sums;
  readonly noise: number;
  readonly fs: number;
  /** Samples in the moving average; one mains cycle at 50 Hz, so that its hum is nulled. */
  readonly m: number;
  readonly drop: number;
}

const mean = ({ sums, m }: Search, i: number): number => (valueAt(sums.y, i + 1) - valueAt(sums.y, i + 1 - m)) / m;

/** The first place from which the averaged trace stays a drop below its own maximum; the place of that maximum, too. */
function findDrop(s: Search, from: number): { readonly top: number; readonly max: number; readonly confirmed: number } | null {
  const confirm = Math.max(2, Math.round(CONFIRM_S * s.fs));
  let max = Number.NEGATIVE_INFINITY;
  let top = from;
  let below = 0;
  for (let i = from + s.m - 1; i < s.p.length; i++) {
    const here = mean(s, i);
    if (here > max) {
      max = here;
      top = i;
    }
    below = here < max - s.drop ? below + 1 : 0;
    if (below >= confirm) return { top, max, confirmed: i };
  }
  return null;
}

/** Where the fall has died away, to within a tenth of a second. */
function findShut(s: Search, from: number, below: number): number | null {
  const w = Math.max(4, Math.round(SLOPE_S * s.fs));
  const wanted = Math.round(SLOW_S * s.fs);
  let steepest = 0;
  let slow = 0;
  for (let i = from + w; i < s.p.length; i++) {
    const here = slope(s.sums, i - w + 1, i);
    if (here < steepest) steepest = here;
    const quiet = steepest < 0 && here > SLOW_SHARE * steepest && mean(s, i) < below;
    // Noise may break the quiet for a sample or two; that sets the count back and does not begin it anew.
    slow = quiet ? slow + 1 : Math.max(0, slow - 4);
    if (slow >= wanted) return i - wanted - (w >> 1);
  }
  return null;
}

function reseatOf(s: Search, crackAt: number, shut: number): Hinge | null {
  const { fs, p } = s;
  const from = Math.max(Math.ceil(crackAt) + 1, Math.round(shut - BEFORE_RESEAT_S * fs));
  const to = Math.min(p.length - 1, Math.round(shut + AFTER_RESEAT_S * fs));
  const reach = 0.1 * fs;
  return hinge(p, from, to, shut - reach, shut + reach, 0.25, shut - from < 30 ? 'line' : 'quadratic', 'line');
}

/** The rise in two lines, against one: a proportional valve. Sums of the part beyond the break follow from running sums, so the scan is linear. */
function proportional(s: Search): Lift | null {
  const { p, sums } = s;
  const n = p.length;
  if (n < 40) return null;
  const middle = (n - 1) / 2;
  const total = valueAt(sums.y, n);
  const sxx = (n * (n * n - 1)) / 12;
  const sxy = valueAt(sums.iy, n) - middle * total;
  const my = total / n;
  let syy = 0;
  for (const v of p) syy += (v - my) ** 2;
  const one = syy - (sxy * sxy) / sxx;
  // The second line's own regressor h = max(0, i − τ), made independent of the first line: what it explains is (h·y)² ÷ (h·h).
  const gain = (tau: number): { gain: number; c: number; b: number; value: number } => {
    const k = Math.ceil(tau);
    const count = n - k;
    const first = (k + n - 1) / 2 - tau;
    const h1 = count * first;
    const h2 = count * first * first + (count * (count * count - 1)) / 12;
    const hx = h1 * ((k + n - 1) / 2 - middle) + (count * (count * count - 1)) / 12;
    const hy = valueAt(sums.iy, n) - valueAt(sums.iy, k) - tau * (total - valueAt(sums.y, k)) - h1 * my;
    const hh = h2 - (h1 * h1) / n - (hx * hx) / sxx;
    const left = hy - (hx * sxy) / sxx;
    const c = left / hh;
    const b = (sxy - c * hx) / sxx;
    return { gain: (left * left) / hh, c, b, value: my - c * (h1 / n) + b * (tau - middle) };
  };
  const best = (low: number, high: number, step: number): number => {
    let at = low;
    let most = -1;
    for (let tau = low; tau <= high; tau += step) {
      const g = gain(tau).gain;
      if (g > most) [most, at] = [g, tau];
    }
    return at;
  };
  const coarse = best(10, n - 11, 4);
  const tau = best(Math.max(10, coarse - 4), Math.min(n - 11, coarse + 4), 0.5);
  const found = gain(tau);
  const f = found.gain / 2 / ((one - found.gain) / (n - 4));
  const bends = found.b > 0 && (found.b + found.c) / found.b < 0.8;
  return bends && fTail(f, 2, n - 4) < 0.001 ? { crack: found.value, crackAt: tau, reseat: null, reseatAt: null } : null;
}

/**
 * Finds where a valve opens and where it shuts in a trace of rising pressure: neither the highest nor the lowest sample, but the places at which the
 * trace breaks. Spikes are taken out, hum is nulled for the search, and the values come from fits of the trace itself. Linear in its length.
 * Source: Hampel identifier; segmented regression (Hinkley 1969; Seber & Wild, chapter 9); both from memory. Terms: ISO 4126-1, API 576, from memory.
 * @param trace pressures in any unit, evenly spaced
 * @param fs samples a second, 20 to 200
 * @returns every lift in order; the first one's crack and the last one's reseat are what is reported
 * @example of a valve set at 10, at 200 samples a second: the first lift’s crack is about 10.0
 */
export function findLifts(trace: Float64Array, fs: number): Lifts {
  const noise = noiseOf(trace);
  const p = withoutSpikes(trace, noise);
  const m = Math.max(1, Math.round(fs / 50));
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (const v of p) {
    if (v < low) low = v;
    if (v > high) high = v;
  }
  const s: Search = { p, sums: sumsOf(p), noise, fs, m, drop: Math.max((DROP_NOISE * noise) / Math.sqrt(m), DROP_SPAN * (high - low)) };
  const lifts: Lift[] = [];
  for (let from = 0; ;) {
    const event = findDrop(s, from);
    if (!event) break;
    const left = Math.max(from, event.top - Math.round(LEFT_S * fs));
    const crack = hinge(p, left, event.confirmed, event.top - 0.1 * fs, event.confirmed - 2, 0.25, 'line', 'quadratic');
    if (!crack) break;
    const shut = findShut(s, event.top, event.max - s.drop);
    const reseat = shut === null ? null : reseatOf(s, crack.at, shut);
    lifts.push({ crack: crack.value, crackAt: crack.at, reseat: reseat?.value ?? null, reseatAt: reseat?.at ?? null });
    if (!reseat) break;
    from = Math.ceil(reseat.at) + 1;
  }
  if (lifts.length > 0) return { noise, lifts, proportional: false };
  const gentle = proportional(s);
  return { noise, lifts: gentle ? [gentle] : [], proportional: gentle !== null };
}
