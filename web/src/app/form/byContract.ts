import type { AbstractControl, ValidationErrors, ValidatorFn } from '@angular/forms';
import { Malformed, parse, type Flaw, type Problem } from '@grellin/contract';
import type { Lazy, Schema } from 'yup';

/** What is wrong, in words, by the path of the field in what is asked of the server. */
export type Flaws = Readonly<Record<string, string>>;

/** The first that is wrong with each field: an empty name is missing, and not ill-written as well. */
const byPath = (flaws: readonly Flaw[]): Flaws => Object.fromEntries([...flaws].reverse().map((f) => [f.path, f.message]));

/** How a form becomes a request, and what the form alone can see. */
export interface Reading<H> {
  /** What is asked of the server for what the form holds; the same where it is left out. */
  readonly request?: (held: H) => unknown;
  /** What is wrong besides: fields of the screen alone, and fields that do not go together. */
  readonly besides?: (held: H) => Flaws;
}

/** Validates a form by the same schema that the server holds it against. */
export function byContract<T, H = T>(schema: Schema<T> | Lazy<T>, { request = (held) => held, besides = () => ({}) }: Reading<H> = {}): ValidatorFn {
  return (form: AbstractControl): ValidationErrors | null => {
    const held = form.value as H;
    const own = besides(held);
    // What the form itself can say comes first: it is nearer to what was typed.
    const flaws = { ...own, ...flawsOf(() => parse(schema, request(held))), ...own };
    return Object.keys(flaws).length === 0 ? null : { flaws };
  };
}

function flawsOf(check: () => unknown): Flaws {
  try {
    check();
    return {};
  } catch (error) {
    if (error instanceof Malformed) return byPath(error.flaws);
    throw error;
  }
}

/** What the server found wrong stands beside the fields too, until something is changed. */
export function refusedBy(form: AbstractControl, { flaws }: Problem): void {
  if (!flaws) return;
  form.setErrors({ flaws: byPath(flaws) });
  form.markAllAsTouched();
}

/** The names that lead from the whole form to one of its controls. */
function pathOf(control: AbstractControl): string {
  const names: string[] = [];
  for (let at = control; at.parent; at = at.parent) {
    const name = Object.entries(at.parent.controls).find(([, c]) => c === at)?.[0];
    if (name !== undefined) names.unshift(name);
  }
  return names.join('.');
}

/** What is wrong with one field, in words, once somebody has been in it; null while nothing is. A flaw of a part of it is one of the whole. */
export function flawOf(control: AbstractControl): string | null {
  if (control.untouched) return null;
  const own = control.errors?.['words'] as string | undefined;
  if (own !== undefined) return own;
  const flaws = (control.root.errors?.['flaws'] ?? {}) as Flaws;
  const path = pathOf(control);
  return Object.entries(flaws).find(([p]) => p === path || p.startsWith(`${path}.`))?.[1] ?? null;
}
