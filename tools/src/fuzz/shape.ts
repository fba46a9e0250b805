import type { Chance } from './chance';

/** As much of JSON Schema as the OpenAPI document uses. */
export interface Shape {
  readonly type?: string;
  readonly enum?: readonly unknown[];
  readonly pattern?: string;
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly properties?: Readonly<Record<string, Shape>>;
  readonly required?: readonly string[];
  readonly additionalProperties?: boolean | Shape;
  readonly propertyNames?: Shape;
  readonly items?: Shape;
  readonly anyOf?: readonly Shape[];
  readonly oneOf?: readonly Shape[];
}

/** Words that a station knows, by the name of the field that asks for one; whatever else asks takes any of them. */
export type Vocabulary = Readonly<Record<string, readonly string[]>>;

/** Texts that have broken programs before. */
export const nasty: readonly unknown[] = [
  null, true, 0, -1, 0.1, 1e308, -1e308, 2 ** 53, 2 ** 31, 1.2345678901234567, '', ' ', '0', 'null', 'x'.repeat(5000), 'a\u0000b', '\ud800', '\u202e', '__proto__', 'constructor', 'toString',
  '-'.repeat(36), '0'.repeat(36), '00000000-0000-0000-0000-000000000000', 'P9999Y', 'P1Y', '-P1Y', 'PT1H', '9999-12-31', '0000-01-01', '0001-01-01', '2026-02-30', '1970-01-01', '+010000-01-01',
  "'; DROP TABLE run; --", '%', '_', '\\', '../../etc/passwd', '=1+1', 'furlong', [], {}, [[]], [null], { $ne: 1 }, { length: 1e9 }, '1e9', 'NaN', 'Infinity', '２０２６',
]; // prettier-ignore

const dates = ['2026-11-27', '2024-02-29', '1999-12-31', '2031-01-31', '2299-12-31', '1850-01-01'];
const intervals = ['P1Y', 'P6M', 'P1W', 'P1D', 'P100Y', 'P30M'];

function textFor(shape: Shape, name: string, words: Vocabulary, chance: Chance): string {
  const pattern = shape.pattern ?? '';
  if (pattern.startsWith('^[0-9a-f]{8}')) return chance.of([...(words[name] ?? []), ...(words['ids'] ?? [])]);
  if (pattern.startsWith('^[0-9a-f]{64}')) return chance.of(words['digests'] ?? ['0'.repeat(64)]);
  if (pattern.startsWith('^\\d{4}-\\d\\d-\\d\\dT')) return new Date(1.79e12 + chance.below(1e9)).toISOString();
  if (pattern.startsWith('^\\d{4}')) return chance.of(dates);
  if (pattern.startsWith('^\\d{1')) return String(chance.below(12));
  const known = words[name];
  if (known && known.length > 0 && !chance.once(20)) return chance.of(known);
  return chance.of([...Object.values(words).flat(), ...intervals, ...dates]).slice(0, shape.maxLength ?? 80);
}

function numberFor(shape: Shape, chance: Chance): number {
  const low = shape.minimum ?? -5;
  const high = Math.min(shape.maximum ?? 1000, low + 1000);
  const value = low + chance.next() * (high - low);
  return shape.type === 'integer' || chance.once(2) ? Math.round(value) : Number(value.toFixed(2));
}

/**
 * A value that keeps a shape, as far as the shape says.
 * @param name the field that it stands in
 */
export function valueOf(shape: Shape, name: string, words: Vocabulary, chance: Chance, depth = 0): unknown {
  const choices = shape.oneOf ?? shape.anyOf;
  if (choices) return valueOf(chance.of(choices), name, words, chance, depth);
  if (shape.enum) return chance.of(shape.enum);
  switch (shape.type) {
    case 'object': {
      const given: Record<string, unknown> = {};
      for (const [key, of] of Object.entries(shape.properties ?? {}))
        if ((shape.required ?? []).includes(key) || chance.once(2)) given[key] = valueOf(of, key, words, chance, depth + 1);
      if (typeof shape.additionalProperties === 'object') {
        const keys = words[`${name}:keys`] ?? words['keys'] ?? [];
        for (let i = chance.below(3) + 1; i > 0 && keys.length > 0; i--)
          given[chance.of(keys)] = valueOf(shape.additionalProperties, name, words, chance, depth + 1);
      }
      return given;
    }
    case 'array': {
      const least = shape.minItems ?? 0;
      const most = Math.min(shape.maxItems ?? 4, least + 3);
      return Array.from({ length: least + chance.below(most - least + 1) }, () => valueOf(shape.items ?? {}, name, words, chance, depth + 1));
    }
    case 'boolean':
      return chance.once(2);
    case 'number':
    case 'integer':
      return numberFor(shape, chance);
    case 'string':
      return textFor(shape, name, words, chance);
    default:
      return chance.of(nasty);
  }
}

/** Every place within a value, as a path of keys. */
function places(value: unknown, path: readonly (string | number)[] = []): (readonly (string | number)[])[] {
  if (Array.isArray(value)) return [path, ...value.flatMap((v, i) => places(v, [...path, i]))];
  if (typeof value === 'object' && value !== null) return [path, ...Object.entries(value).flatMap(([k, v]) => places(v, [...path, k]))];
  return [path];
}

/** The value with something spoiled in it: a value of another kind, a field left out, doubled, or one too many. */
export function spoiled(value: unknown, chance: Chance): unknown {
  const path = chance.of(places(value));
  if (path.length === 0) return chance.of(nasty);
  const copy: unknown = structuredClone(value);
  let at = copy as Record<string | number, unknown>;
  for (const key of path.slice(0, -1)) at = at[key] as Record<string | number, unknown>;
  const last = path.at(-1) ?? '';
  const held = at[last];
  switch (chance.below(6)) {
    case 0:
      Reflect.deleteProperty(at, last);
      break;
    case 1:
      at['unknown'] = chance.of(nasty);
      break;
    case 2:
      at[last] = Array.isArray(held) ? [...(held as unknown[]), ...(held as unknown[])] : [held];
      break;
    default:
      at[last] = chance.of(nasty);
  }
  return copy;
}
