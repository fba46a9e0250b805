import { readFileSync } from 'node:fs';
import { catalogue } from '@grellin/core';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { describe, expect, it } from 'vitest';
import { judgeRunFile, loadProcedure, Malformed, procedureJsonSchema } from '../src';

type Plain = Record<string, unknown>;
const plain = (value: unknown): Plain => JSON.parse(JSON.stringify(value)) as Plain;
const published = JSON.parse(readFileSync(new URL('../../docs/procedure.schema.json', import.meta.url), 'utf8')) as Plain;
const valid = new Ajv2020({ strict: false, allErrors: true }).compile(published);
const suit = (): Plain => plain(catalogue.find((p) => p.id === 'suit.inflation'));

describe('a procedure as a document', () => {
  it('publishes the JSON Schema that the contract makes', () => expect(published).toEqual(plain(procedureJsonSchema())));
  it.each(catalogue.map((p) => [p.id, p] as const))('%s is read back as it was written, and keeps the published schema', (_, p) => {
    expect(loadProcedure(plain(p))).toEqual(p);
    expect(valid(plain(p)), JSON.stringify(valid.errors?.slice(0, 3))).toBe(true);
  });

  type Change = (p: Plain) => unknown;
  const stages = (p: Plain): Plain[] => p['stages'] as Plain[];
  const rules = (p: Plain): Plain[] => p['ruleSets'] as Plain[];
  it.each<[string, Change, string]>([
    ['an unknown key', (p) => (p['colour'] = 'red'), 'noUnknown'],
    ['a method nobody knows', (p) => ((stages(p)[0] as Plain)['method'] = { kind: 'guess' }), 'oneOf'],
    ['a step nobody knows', (p) => ((stages(p)[3] as Plain)['steps'] = [{ id: 'x', kind: 'jump', text: 'x' }]), 'oneOf'],
    ['a confidence of one', (p) => ((rules(p)[0] as Plain)['decision'] = { kind: 'guarded', confidence: 1 }), 'max'],
    ['an operator nobody knows', (p) => ((((rules(p)[0] as Plain)['limits'] as Plain[])[0] as Plain)['op'] = '=='), 'oneOf'],
    ['a limit without a source', (p) => delete (((rules(p)[0] as Plain)['limits'] as Plain[])[0] as Plain)['source'], 'optionality'],
    [
      'a figure that is no number',
      (p) => ((((rules(p)[0] as Plain)['parameters'] as Plain)['hold'] as Plain)['value'] = { value: '4', unit: 'min' }),
      'typeError',
    ],
    ['a figure that is missing', (p) => delete ((rules(p)[0] as Plain)['parameters'] as Plain)['hold'], 'figureUnknown'],
    ['no rule sets', (p) => (p['ruleSets'] = []), 'min'],
  ])('%s is refused with its path', (_, change, code) => {
    const p = suit();
    change(p);
    try {
      loadProcedure(p);
      expect.unreachable('it was taken');
    } catch (error) {
      if (!(error instanceof Malformed)) throw error;
      expect(error.flaws.map((f) => f.code)).toContain(code);
    }
  });

  it('of an officer’s own judges a run by its own figures, and only a run of its own', () => {
    const run = plain(JSON.parse(readFileSync(new URL('../../docs/samples/suit-inflation-pass.json', import.meta.url), 'utf8')));
    const mine = suit();
    mine['id'] = 'station.suit';
    mine['edition'] = '3';
    for (const r of rules(mine))
      for (const l of r['limits'] as Plain[]) if (l['stage'] === 'inflate' && l['of'] === 'end') l['value'] = { value: 3.99, unit: "[in_i'H2O]" };
    const own = loadProcedure(mine);
    expect(() => judgeRunFile(run, own)).toThrow(Malformed);
    run['procedure'] = { id: 'station.suit', edition: '3' };
    expect(judgeRunFile(run, own).verdict).toBe('fail');
    expect(() => judgeRunFile(run)).toThrow(Malformed);
  });
});
