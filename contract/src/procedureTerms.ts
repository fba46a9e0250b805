import type { Bound, Condition, Value } from '@grellin/core';
import { array, bool, lazy, string, type InferType, type Lazy, type Schema } from 'yup';
import { describeAs, jsonSchemaOf, type JsonSchema } from './jsonSchema';
import { byType, id, optionally, recordOf, words } from './primitives';
import { quantitySchema } from './quantity';
import { same } from './same';
import { shape } from './shape';

/** The terms that a procedure's sentences are made of: what they hang on, what a figure is, where it was found. */

export const only = () => bool().oneOf([true]).optional() as Schema<true | undefined>;
export const ref = () =>
  string<`${string}.${string}`>()
    .required()
    .matches(/^[A-Za-z0-9][A-Za-z0-9-]*\.[A-Za-z0-9][A-Za-z0-9]*$/, 'attribute');

/** Refers to a schema that contains itself; the published JSON Schema names it under `$defs`. */
const within = <T>(name: string, make: () => Lazy<T> | Schema<T>): Lazy<T> =>
  describeAs(
    lazy(() => make() as Schema<T>),
    () => ({ $ref: `#/$defs/${name}` }),
  );
export const conditionAgain = within<Condition>('condition', () => conditionSchema);
export const valueAgain = within<Value>('value', () => valueSchema);

export const has = (given: unknown, key: string): boolean => typeof given === 'object' && given !== null && Object.hasOwn(given, key);

const allOf = shape({
  all: array().of(conditionAgain).required().max(20, 'long'),
});
const isOneOf = shape({
  attribute: ref(),
  is: array()
    .of(byType<string | boolean>((given) => (typeof given === 'boolean' ? bool().required() : words(200)), [bool().required(), words(200)]))
    .required()
    .min(1, 'short'),
});
const printed = array().of(quantitySchema).required().min(1, 'short').max(10, 'long');
const bound = optionally(byType<Bound>((given) => (Array.isArray(given) ? printed : quantitySchema), [quantitySchema, printed]));
const between = shape({ attribute: ref(), from: bound, upTo: bound, below: bound });
const conditionSchema: Lazy<Condition> = byType<Condition>(
  (given) => (has(given, 'all') ? allOf : has(given, 'is') ? isOneOf : between),
  [allOf, isOneOf, between],
);
same<InferType<typeof allOf> | InferType<typeof isOneOf> | InferType<typeof between>, Condition>(true);

const attributeValue = shape({ attribute: ref() });
const rowsValue = shape({
  rows: array()
    .of(shape({ when: conditionAgain, value: valueAgain }))
    .required()
    .min(1, 'short')
    .max(200, 'long'),
});
const formulaValue = shape({ formula: id(), of: recordOf(valueAgain) });
const tableValue = shape({ table: id(), figure: id() });
const valueSchema: Lazy<Value> = byType<Value>(
  (given) =>
    has(given, 'rows')
      ? rowsValue
      : has(given, 'formula')
        ? formulaValue
        : has(given, 'table')
          ? tableValue
          : has(given, 'attribute')
            ? attributeValue
            : quantitySchema,
  [quantitySchema, attributeValue, rowsValue, formulaValue, tableValue],
);
same<
  | InferType<typeof attributeValue>
  | InferType<typeof rowsValue>
  | InferType<typeof formulaValue>
  | InferType<typeof tableValue>
  | InferType<typeof quantitySchema>,
  Value
>(true);

export const sourceSchema = shape({ title: words(300), clause: words(300).optional() });

/** The terms that contain themselves, as the published JSON Schema names them. */
export const termsJsonSchema = (): Readonly<Record<string, JsonSchema>> => ({ condition: jsonSchemaOf(conditionSchema), value: jsonSchemaOf(valueSchema) });
