/** A type as it is written down: every name spelled out, whatever it was put together from, and nothing that may be written to. */
type Plain<T> = T extends string | number | boolean | null | undefined
  ? T
  : T extends readonly (infer E)[]
    ? readonly Plain<E>[]
    : { readonly [K in keyof T]: Plain<T[K]> };

// Two generic signatures are one only where their conditions are the same type to the letter: what can merely stand for another is told apart.
/* eslint-disable @typescript-eslint/no-unnecessary-type-parameters */
/** True only when two types are the same name by name: a field that one of them lacks, or may leave out, is a difference. */
export type Same<A, B> = (<T>() => T extends Plain<A> ? 1 : 2) extends <T>() => T extends Plain<B> ? 1 : 2 ? true : never;
/* eslint-enable @typescript-eslint/no-unnecessary-type-parameters */

/** Fails to compile unless the schema's type and the core's type are the same. Does nothing when it runs. */
export function same<A, B>(proof: Same<A, B>): Same<A, B> {
  return proof;
}
