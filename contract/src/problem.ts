import { ValidationError, type Lazy, type Schema } from 'yup';

/** One thing wrong with a document, and where. */
export interface Flaw {
  readonly path: string;
  readonly code: string;
  readonly message: string;
}

/** What every refused request answers with. */
export interface Problem {
  readonly code: string;
  readonly message: string;
  readonly flaws?: readonly Flaw[];
  readonly values?: Readonly<Record<string, string>>;
}

/** A document that does not keep its contract. */
export class Malformed extends Error {
  constructor(readonly flaws: readonly Flaw[]) {
    const first = flaws[0];
    super(first ? `${first.path === '' ? 'the document' : first.path}: ${first.message}` : 'malformed');
    this.name = 'Malformed';
  }
}

/** Yup's test names and our own messages, as codes and words. */
const wording: Readonly<Record<string, string>> = {
  required: 'is missing',
  optionality: 'is missing',
  nullable: 'must not be null',
  typeError: 'is of the wrong type',
  noUnknown: 'has keys that are not known',
  finite: 'must be a finite number',
  digits: 'has more than 15 significant digits',
  integer: 'must be a whole number',
  min: 'is too small',
  max: 'is too large or too long',
  characters: 'has characters that are not allowed',
  matches: 'is not written as it must be',
  reserved: 'is a reserved name',
  names: 'has a name that is not allowed',
  unit: 'is not a known unit',
  oneOf: 'is not one of the choices',
  instant: 'is not an ISO 8601 instant in UTC',
  date: 'is not an ISO 8601 date of this or its neighbouring centuries',
  zone: 'is not the name of a time zone',
  follow: 'is not a list of runs and positions',
  interval: 'is not an ISO 8601 interval of days, weeks, months or years',
};

function flawsOf(error: ValidationError): Flaw[] {
  const all = error.inner.length > 0 ? error.inner : [error];
  return all.map((e) => {
    const code = e.type ?? 'typeError';
    const unknown: unknown = e.params?.['unknown'];
    const extra = code === 'noUnknown' && typeof unknown === 'string' ? `: ${unknown}` : '';
    return { path: e.path ?? '', code, message: (wording[code] ?? 'is not allowed') + extra };
  });
}

/**
 * Checks a value against a schema, without any coercion.
 * @returns the value itself, typed
 * @throws Malformed with every flaw and its path
 */
export function parse<T>(schema: Schema<T> | Lazy<T>, value: unknown): T {
  try {
    return (schema as Schema<T>).validateSync(value, { strict: true, abortEarly: false });
  } catch (error) {
    if (error instanceof ValidationError) throw new Malformed(flawsOf(error));
    // Yup throws plain TypeErrors for values that it cannot even walk.
    throw new Malformed([{ path: '', code: 'typeError', message: 'is of the wrong type' }]);
  }
}
