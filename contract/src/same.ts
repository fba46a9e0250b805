/** True only when two types can stand for each other in both directions. */
export type Same<A, B> = [A] extends [B] ? ([B] extends [A] ? true : never) : never;

/** Fails to compile unless the schema's type and the core's type are the same. Does nothing when it runs. */
export function same<A, B>(proof: Same<A, B>): Same<A, B> {
  return proof;
}
