import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { transformSync } from 'esbuild';
import { describe, expect, it } from 'vitest';

/**
 * Every example in a docstring is carried out: `@example expression // value`. The value is an expression too; a number is as exact as it is written, and may
 * have a unit or words after it. Examples in prose (`250 Pa, half crossed after 6 min…`) carry no `//` and stand in the tests of their method.
 */
interface Example {
  readonly where: string;
  readonly code: string;
  readonly value: string;
}

const root = new URL('../src', import.meta.url).pathname;
const files = (function filesIn(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((f) => (f.isDirectory() ? filesIn(join(folder, f.name)) : f.name.endsWith('.ts') ? [join(folder, f.name)] : []));
})(root); // prettier-ignore

const examples: readonly Example[] = files.flatMap((file) =>
  [...readFileSync(file, 'utf8').matchAll(/@example (.+?)(?: |\n \* +)\/\/ (.+?)(?: \*\/)?\n/g)].flatMap(([, code = '', value = '']) =>
    // What leaves something out is no code.
    code.includes('…') ? [] : [{ where: relative(root, file), code, value }],
  ),
);

/** Everything that any file of the core exports, by its name. */
const modules = await Promise.all(files.map((file) => import(file) as Promise<Readonly<Record<string, unknown>>>));
const scope: Readonly<Record<string, unknown>> = Object.fromEntries(modules.flatMap((m) => Object.entries(m)));

function run(code: string): unknown {
  const names = Object.keys(scope).filter((name) => code.includes(name));
  const js = transformSync(`const value = (${code});`, { loader: 'ts', tsconfigRaw: '{}' }).code;
  // The code is our own, out of our own sources.
  // eslint-disable-next-line @typescript-eslint/no-implied-eval
  return (new Function(...names, `${js}\nreturn value;`) as (...values: unknown[]) => unknown)(...names.map((name) => scope[name]));
}

const NUMBER = /^-?\d+(?:\.(\d+))?(?:e(-?\d+))?/;

/** The expected value: an expression, or the number that it begins with; and how exactly it was written. */
function expected(text: string): { readonly value: unknown; readonly within?: number } {
  const plain = text.replace('about ', '');
  const number = NUMBER.exec(plain);
  if (number) {
    // A number that is cut off (…) may be off by a whole step of its last digit, a rounded one by half of it.
    const step = 10 ** (Number(number[2] ?? 0) - (number[1]?.length ?? 0));
    return { value: Number(number[0]), within: step * (plain.includes('…') || text.startsWith('about') ? 1 : 0.5000001) };
  }
  // Words may follow after a colon that stands in no bracket.
  for (let end = plain.length; end > 0; end = plain.lastIndexOf(':', end - 1))
    try {
      return { value: run(plain.slice(0, end)) };
    } catch {
      // said with more words: cut off the last of them
    }
  throw new Error(`no value in “${text}”`);
}

const isPlain = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && Object.getPrototypeOf(v) === Object.prototype;

/** Numbers within an object are as exact as seven digits. */
function rounded(v: unknown): unknown {
  if (typeof v === 'number' && Number.isFinite(v)) return Number(v.toPrecision(7));
  if (Array.isArray(v)) return v.map(rounded);
  return isPlain(v) ? Object.fromEntries(Object.entries(v).map(([k, x]) => [k, rounded(x)])) : v;
}

/** Exported functions whose docstring has no example, code or prose. */
const without = files.flatMap((file) => {
  const named = new Map<string, string>();
  // The first of overloaded signatures has the docstring.
  for (const [, doc = '', name = ''] of readFileSync(file, 'utf8').matchAll(/(\/\*\*(?:(?!\*\/)[\s\S])*\*\/\n)?export (?:async )?function (\w+)/g))
    if (!named.has(name)) named.set(name, doc);
  return [...named].flatMap(([name, doc]) => (doc.includes('@example') ? [] : [`${relative(root, file)}: ${name}`]));
});
describe('the examples of the core', () => {
  it('are there', () => expect(examples.length).toBeGreaterThanOrEqual(250));
  // Stryker writes its own functions into the files that are read here.
  it.skipIf('__stryker__' in globalThis)('are there for every function that a file of the core exports', () => expect(without).toEqual([]));
  it.each(examples.map((e) => [`${e.where}: ${e.code}`, e] as const))('%s', (_, { code, value }) => {
    const found = run(code);
    const wanted = expected(value);
    if (wanted.within !== undefined) {
      const number = isPlain(found) && 'value' in found ? found['value'] : found;
      expect(Math.abs(Number(number) - Number(wanted.value)), `${String(number)} is not ${value}`).toBeLessThanOrEqual(wanted.within);
    } else expect(rounded(found)).toEqual(rounded(wanted.value));
  });
});
