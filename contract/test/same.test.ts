import { describe, expect, it } from 'vitest';
import { same } from '../src';

interface Gap {
  readonly kind: 'gap';
  readonly wallMs: number;
  readonly note?: string;
}

/** The lines that must not compile are the test: where one of them does, `tsc` says that its directive is not used. */
describe('the proof that a schema and the core speak of one shape', () => {
  it('takes one shape written in two ways', () => {
    expect(same<Gap, { readonly kind: 'gap' } & { wallMs: number; note?: string | undefined }>(true)).toBe(true);
    expect(same<readonly Gap[], Gap[]>(true)).toBe(true);
  });

  it('refuses whatever is not the same to the letter', () => {
    // @ts-expect-error a field of another type
    same<Gap, { kind: 'gap'; wallMs: string; note?: string }>(true);
    // @ts-expect-error a field that one of them lacks, though it may be left out
    same<Gap, { kind: 'gap'; wallMs: number }>(true);
    // @ts-expect-error a field that only one of them may leave out
    same<Gap, { kind: 'gap'; wallMs: number; note: string }>(true);
    // @ts-expect-error a wider word
    same<Gap, { kind: string; wallMs: number; note?: string }>(true);
    // @ts-expect-error one that takes anything
    same<Gap, { kind: 'gap'; wallMs: never; note?: string }>(true);
    expect.assertions(0);
  });
});
