/**
 * A list that only grows, newest first, sharing its tail with every earlier version of itself. Adding is O(1) and nothing is copied, so
 * folding a long run one event at a time stays linear; a plain array in an immutable state would make it quadratic.
 */
export interface Trail<T> {
  readonly item: T;
  readonly before: Trail<T> | null;
  readonly length: number;
}

/**
 * @example added(null, 'first').length // 1
 */
export function added<T>(trail: Trail<T> | null, item: T): Trail<T> {
  return { item, before: trail, length: (trail?.length ?? 0) + 1 };
}

const listed = new WeakMap<object, readonly unknown[]>();

/**
 * The items, oldest first. Kept for each version, because the judge and the strip both ask again for the same one.
 * @example items(added(added(null, 'first'), 'second')) // ['first', 'second']
 */
export function items<T>(trail: Trail<T> | null): readonly T[] {
  if (!trail) return [];
  const kept = listed.get(trail) as readonly T[] | undefined;
  if (kept) return kept;
  const all = new Array<T>(trail.length);
  for (let at: Trail<T> | null = trail; at; at = at.before) all[at.length - 1] = at.item;
  listed.set(trail, all);
  return all;
}
