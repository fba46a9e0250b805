/**
 * The value at a place. An index that is not there is a mistake of the caller's, and must not travel on as a zero.
 * @throws RangeError when there is none
 * @example valueAt([3, 5], 1) // 5
 */
export function valueAt(values: ArrayLike<number>, i: number): number {
  const value = values[i];
  if (value === undefined) throw new RangeError(`there is no value at ${i} of ${values.length}`);
  return value;
}
