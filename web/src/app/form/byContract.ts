import type { AbstractControl, ValidationErrors, ValidatorFn } from '@angular/forms';
import { Malformed, parse } from '@grellin/contract';
import type { Lazy, Schema } from 'yup';

const flawsOf = (error: unknown): Readonly<Record<string, string>> =>
  error instanceof Malformed ? Object.fromEntries(error.flaws.map((f) => [f.path, f.message])) : {};

/** Validates a form by the same schema that the server holds it against: `flaws` by the path of the field. Fields that are of the screen alone are left out. */
export function byContract<T>(schema: Schema<T> | Lazy<T>, own: readonly string[] = []): ValidatorFn {
  return (form: AbstractControl): ValidationErrors | null => {
    const given = Object.fromEntries(Object.entries(form.value as object).filter(([name]) => !own.includes(name)));
    try {
      parse(schema, given);
      return null;
    } catch (error) {
      return { flaws: flawsOf(error) };
    }
  };
}

/** What is wrong with one field, in words, once somebody has been in it; null while nothing is. */
export function flawOf(form: AbstractControl, name: string): string | null {
  const control = form.get(name);
  const flaws = form.errors?.['flaws'] as Readonly<Record<string, string>> | undefined;
  const words = flaws?.[name];
  return words === undefined || !control || control.untouched ? null : words;
}
