import type { Lazy, Schema, SchemaDescription, SchemaObjectDescription } from 'yup';

export type JsonSchema = Readonly<Record<string, unknown>>;
type Any = Schema | Lazy<unknown>;
type Describe = (schemaOf: (schema: unknown) => JsonSchema) => JsonSchema;

/** A lazy schema cannot be looked into without a value, so it says here what it may become. */
const described = new WeakMap<object, Describe>();

/** Gives a schema the JSON Schema that it is described by, where its tests cannot be read out of it. @returns the same schema */
export function describeAs<S extends object>(schema: S, describe: Describe): S {
  described.set(schema, describe);
  return schema;
}

interface Inner {
  readonly fields?: Readonly<Record<string, Any>>;
  readonly innerType?: Any;
}

function tests(d: SchemaDescription): JsonSchema {
  const found: Record<string, unknown> = {};
  for (const t of d.tests) {
    const p = t.params ?? {};
    if (t.name === 'min') found[d.type === 'string' ? 'minLength' : d.type === 'array' ? 'minItems' : 'minimum'] = p['min'];
    if (t.name === 'max') found[d.type === 'string' ? 'maxLength' : d.type === 'array' ? 'maxItems' : 'maximum'] = p['max'];
    if (t.name === 'integer') found['type'] = 'integer';
    if (t.name === 'matches') found['pattern'] = (p['regex'] as RegExp).source;
  }
  return found;
}

/** A described lazy shape says `optional: true` of itself where it may be left out; that is no word of JSON Schema. */
function withoutMark(schema: JsonSchema): JsonSchema {
  return 'optional' in schema ? Object.fromEntries(Object.entries(schema).filter(([k]) => k !== 'optional')) : schema;
}

/**
 * The JSON Schema (2020-12) of a Yup schema, for OpenAPI and the published file formats. Covers what the contract uses: strict objects, arrays,
 * words, numbers, booleans, choices, and the lazy shapes that say what they may become.
 */
export function jsonSchemaOf(schema: unknown): JsonSchema {
  const lazyOne = described.get(schema as object);
  if (lazyOne) return lazyOne(jsonSchemaOf);
  const s = schema as Schema & Inner;
  const d = s.describe() as SchemaDescription & Partial<SchemaObjectDescription>;
  const base: Record<string, unknown> = { ...(d.type === 'mixed' ? {} : { type: d.type }), ...tests(d) };
  if (d.oneOf.length > 0) base['enum'] = d.oneOf;
  if (s.fields) {
    const fields = Object.entries(s.fields);
    base['properties'] = Object.fromEntries(fields.map(([k, f]) => [k, withoutMark(jsonSchemaOf(f))]));
    base['required'] = fields
      .filter(([, f]) => (described.has(f) ? described.get(f)?.(jsonSchemaOf)['optional'] !== true : !(f as Schema).spec.optional))
      .map(([k]) => k);
    base['additionalProperties'] = false;
  }
  if (s.innerType) base['items'] = jsonSchemaOf(s.innerType);
  if (d.nullable) return { anyOf: [base, { type: 'null' }] };
  return base;
}
