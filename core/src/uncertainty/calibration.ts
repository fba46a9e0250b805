import { decimal, decimalIn, type Quantity } from '../quantity';

/** One point of a calibration: what the standard was, what the instrument showed before and after it was adjusted. */
export interface CalibrationPoint {
  readonly nominal: Quantity;
  readonly asFound: Quantity;
  readonly asLeft: Quantity;
}

/** Points in order of what the instrument showed, as plain numbers of one unit. */
function shownAndTrue(points: readonly CalibrationPoint[], unit: string): { readonly shown: number; readonly error: number }[] {
  return points
    .map((p) => ({ shown: decimalIn(p.asFound, unit).toNumber(), error: decimalIn(p.asFound, unit).minus(decimalIn(p.nominal, unit)).toNumber() }))
    .sort((a, b) => a.shown - b.shown);
}

/**
 * The error that an instrument was found with at what it shows: straight between the points, and that of the outermost point beyond them.
 * Source: common practice; linear interpolation between calibration points, as ISO 10012 leaves to the user, from memory.
 * @param points at least one
 * @param shown what it shows
 * @returns the error, in the unit of `shown`: shown − true
 * @throws RangeError without a point
 * @example foundError([{ nominal: { value: 100, unit: 'Pa' }, asFound: { value: 102, unit: 'Pa' }, asLeft: { value: 100, unit: 'Pa' } }], { value: 50, unit: 'Pa' }) // 2
 */
export function foundError(points: readonly CalibrationPoint[], shown: Quantity): number {
  const known = shownAndTrue(points, shown.unit);
  const [first, last] = [known[0], known.at(-1)];
  if (!first || !last) throw new RangeError('a calibration needs a point');
  if (shown.value <= first.shown) return first.error;
  if (shown.value >= last.shown) return last.error;
  const above = known.findIndex((p) => p.shown >= shown.value);
  // It shows more than `a` and no more than `b`: the two differ.
  const [a, b] = [known[above - 1] ?? first, known[above] ?? last];
  return a.error + ((b.error - a.error) * (shown.value - a.shown)) / (b.shown - a.shown);
}

/**
 * Whether an instrument was found out of its stated limits of error: any point whose error is beyond them.
 * @param accuracy limits of error ±, as stated
 * @example outOfTolerance([{ nominal: { value: 100, unit: 'Pa' }, asFound: { value: 102, unit: 'Pa' }, asLeft: { value: 100, unit: 'Pa' } }], { value: 1, unit: 'Pa' }) // true
 */
export function outOfTolerance(points: readonly CalibrationPoint[], accuracy: Quantity, which: 'asFound' | 'asLeft' = 'asFound'): boolean {
  return points.some((p) => decimalIn(p[which], accuracy.unit).minus(decimalIn(p.nominal, accuracy.unit)).abs().gt(decimal(accuracy.value)));
}
