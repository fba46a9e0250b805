import { isInterval, unitRow } from '@grellin/core';
import { lazy, mixed, number, object, string, type InferType, type Lazy, type NumberSchema, type Schema, type StringSchema } from 'yup';
import { describeAs } from './jsonSchema';

/** Wire numbers have at most this many significant digits, so that every one is the decimal it was written as. */
const SIGNIFICANT = 15;

const NUL = /\u0000/;
const LONE_SURROGATE = /[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/;
const ID = /^[A-Za-z0-9][A-Za-z0-9._:' -]{0,79}$/;

const digits = (value: number): number => String(value).replace(/e.*$/i, '').replace(/[-.]/g, '').replace(/^0+/, '').length;

/** A finite number of at most 15 significant digits. */
export const finite = (): NumberSchema<number> =>
  number()
    .required()
    .test({ name: 'finite', message: 'finite', skipAbsent: true, test: (v) => Number.isFinite(v) })
    .test({ name: 'digits', message: 'digits', skipAbsent: true, test: (v) => digits(v) <= SIGNIFICANT });

/** A whole number from `low` up. */
export const whole = (low: number, high = Number.MAX_SAFE_INTEGER): NumberSchema<number> => finite().integer('whole').min(low, 'low').max(high, 'high');

const text = (most: number): StringSchema<string> =>
  string()
    .required()
    .max(most, 'long')
    .test({ name: 'characters', message: 'characters', skipAbsent: true, test: (v) => isText(v) });

/** A sentence: no U+0000, no half characters, not endless. */
export const words = (most = 2000): StringSchema<string> => text(most);

/** A name. Names that every object answers to are refused: they would find something in any table. */
export const id = (): StringSchema<string> =>
  text(80)
    .matches(ID, 'id')
    .test({ name: 'reserved', message: 'id', skipAbsent: true, test: (v) => !(v in {}) });

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[1-8][0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/;

/** Whether a text is an id as the database takes it. */
export const isUuid = (text: string): boolean => UUID.test(text);

export const uuid = (): StringSchema<string> => string().required().matches(UUID, 'uuid');

/** Whether a text can be kept: no U+0000, no half characters. */
export const isText = (text: string): boolean => !NUL.test(text) && !LONE_SURROGATE.test(text);

export const digest = (): StringSchema<string> =>
  string()
    .required()
    .matches(/^[0-9a-f]{64}$/, 'digest');

/** An ISO 8601 instant in UTC. */
export const instant = (): StringSchema<string> =>
  string()
    .required()
    .matches(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d{1,3})?Z$/, 'instant')
    .test({ name: 'instant', message: 'instant', skipAbsent: true, test: (v) => !Number.isNaN(Date.parse(v)) });

const DATE = /^\d{4}-\d\d-\d\d$/;

/** Before and after these no item was made, and none falls due: a date outside is a slip, and counting from it would leave the calendar. */
const EARLIEST = '1850-01-01';
const LATEST = '2299-12-31';

function isDate(text: string): boolean {
  const at = new Date(`${text}T00:00:00Z`);
  return text >= EARLIEST && text <= LATEST && !Number.isNaN(at.getTime()) && at.toISOString().startsWith(text);
}

/** An ISO 8601 calendar date. */
export const date = (): StringSchema<string> =>
  string().required().matches(DATE, 'date').test({ name: 'date', message: 'date', skipAbsent: true, test: isDate });

/** An ISO 8601 calendar date, or null where there is none. It must be said. */
export const dateOrNull = (): StringSchema<string | null> =>
  string()
    .defined()
    .nullable()
    .matches(DATE, 'date')
    .test({ name: 'date', message: 'date', skipAbsent: true, test: (v) => v === null || isDate(v) });

/** An ISO 8601 calendar date, or null; what says nothing of it is taken as it is. */
export const maybeDate = (): StringSchema<string | null | undefined> =>
  string()
    .nullable()
    .matches(DATE, 'date')
    .test({ name: 'date', message: 'date', skipAbsent: true, test: (v) => v === null || v === undefined || isDate(v) });

const DAY_OR_MONTH = /^\d{4}-\d\d(-\d\d)?$/;

/** A day, or a month where the day is not known, or null. */
export const dayOrMonth = (): StringSchema<string | null | undefined> =>
  string()
    .nullable()
    .matches(DAY_OR_MONTH, 'date')
    .test({
      name: 'date',
      message: 'date',
      skipAbsent: true,
      // What is not even written like one is said once.
      test: (v) => v === null || v === undefined || !DAY_OR_MONTH.test(v) || isDate(v.length === 7 ? `${v}-01` : v),
    });

/** A UCUM unit that the program knows. */
export const unit = (): StringSchema<string> =>
  string()
    .required()
    .max(20, 'long')
    .test({ name: 'unit', message: 'unit', skipAbsent: true, test: (v) => unitRow(v) !== undefined });

/** A table by name. */
export function recordOf<T>(value: Schema<T> | Lazy<T>): Lazy<Record<string, T>> {
  const made = lazy((given: unknown): Schema<Record<string, T>> => {
    const plain = typeof given === 'object' && given !== null && !Array.isArray(given);
    const keys = plain ? Object.keys(given) : [];
    const shape = Object.fromEntries(keys.map((k) => [k, value]));
    return object(shape)
      .required()
      .test('names', 'id', (v) => Object.keys(v).every((k) => ID.test(k) && !(k in {})));
  });
  return describeAs(made, (schemaOf) => ({ type: 'object', propertyNames: { pattern: ID.source }, additionalProperties: schemaOf(value) }));
}

/** What may be left out. */
const nothing = mixed().optional();

/** A lazy shape that may be left out. */
export function optionally<T>(of: Lazy<T>): Lazy<T | undefined> {
  const made = lazy((given: unknown) => (given === undefined ? nothing : of.resolve({ value: given })) as Schema<T | undefined>);
  return describeAs(made, (schemaOf) => ({ ...schemaOf(of), optional: true }));
}

/** A table by name that may be left out. */
export const optionalRecordOf = <T>(value: Schema<T> | Lazy<T>): Lazy<Record<string, T> | undefined> => optionally(recordOf(value));

/** One of several shapes, told apart by a word that each of them carries under the same key. */
export function oneOf<V extends Readonly<Record<string, Schema>>>(key: string, variants: V): Lazy<InferType<V[keyof V]>> {
  const unknown = object({ [key]: string().required().oneOf(Object.keys(variants), 'kind') }).required();
  const made = lazy((given: unknown): Schema<InferType<V[keyof V]>> => {
    const kind: unknown = typeof given === 'object' && given !== null ? (given as Record<string, unknown>)[key] : undefined;
    return typeof kind === 'string' && Object.hasOwn(variants, kind) ? (variants[kind] ?? unknown) : unknown;
  });
  return describeAs(made, (schemaOf) => ({ oneOf: Object.values(variants).map(schemaOf) }));
}

/** One of several shapes told apart by their type in JSON. */
export function byType<T>(pick: (given: unknown) => Schema, all: readonly Schema[]): Lazy<T> {
  return describeAs(
    lazy((given: unknown) => pick(given) as Schema<T>),
    (schemaOf) => ({ oneOf: all.map(schemaOf) }),
  );
}

export const intervalText = string()
  .required()
  .test('interval', 'interval', (v) => isInterval(v));

/** A calendar interval, or null where there is none. */
export const intervalOrNull = () =>
  string()
    .nullable()
    .test({ name: 'interval', message: 'interval', skipAbsent: true, test: (v) => v === null || v === undefined || isInterval(v) });

/** Yes or no in a query string. */
export const flag = () => mixed<'true' | 'false'>().oneOf(['true', 'false']);

/** How many, in a query string. */
export const countText = () => string().matches(/^\d{1,4}$/, 'whole');
