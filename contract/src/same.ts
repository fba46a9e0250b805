/** True only when two types can stand for each other in both directions. */
export type Same<A, B> = [A] extends [B] ? ([B] extends [A] ? true : never) : never;

/** Fails to compile unless the schema's type and the core's type are the same. Does nothing when it runs. */
export function same<A, B>(proof: Same<A, B>): void {
  if (!proof) throw new TypeError('the types differ'); // never: it could not have been compiled
}
