import { readdirSync, readFileSync } from 'node:fs';
import { perform } from '@grellin/core/practice';
import { catalogue, makePlan, procedureById, type RunEvent, factsOf } from '@grellin/core';
import { Ajv2020 } from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eventSchema, judgeRunFile, Malformed, parse, runFileJsonSchema } from '../src';

type Plain = Record<string, unknown>;
const sample = (name: string): Plain => JSON.parse(readFileSync(new URL(`../../docs/samples/${name}`, import.meta.url), 'utf8')) as Plain;
const samples = readdirSync(new URL('../../docs/samples', import.meta.url)).filter((name) => name.endsWith('.json'));
const named = (id: string, verdict: string): string => `${id.replace('.', '-')}-${verdict}.json`;
const published = JSON.parse(readFileSync(new URL('../../docs/run-file.schema.json', import.meta.url), 'utf8')) as Plain;
const ajv = new Ajv2020({ strict: false, allErrors: true });
const valid = ajv.compile(published);

/** The path of the first flaw, or 'none'. */
function flawOf(file: unknown): { path: string; code: string } | 'none' {
  try {
    judgeRunFile(file);
    return 'none';
  } catch (error) {
    if (!(error instanceof Malformed)) throw error;
    const first = error.flaws[0];
    return first ? { path: first.path, code: first.code } : 'none';
  }
}

describe('the run file', () => {
  it.each(samples)('%s is judged as its name says and keeps the published JSON Schema', (name) => {
    const file = sample(name);
    expect(judgeRunFile(file).verdict).toBe(/-(\w+)\.json$/.exec(name)?.[1]);
    expect(valid(file), JSON.stringify(valid.errors)).toBe(true);
  });

  it.each(catalogue.map((p) => [p.id, p] as const))(
    'has a pass, a fail and a void of %s, and one that cannot tell where a test instrument measures',
    (id, p) => {
      for (const verdict of ['pass', 'fail', 'void']) expect(samples).toContain(named(id, verdict));
      const tested = sample(named(id, 'pass'))['instruments'] as Record<string, { fitted: boolean }>;
      const measures = p.stages.some((s) => factsOf(s.method).measured);
      if (measures && Object.values(tested).some((i) => !i.fitted)) expect(samples).toContain(named(id, 'undecided'));
    },
  );

  it('publishes the JSON Schema that the contract makes', () => expect(published).toEqual(JSON.parse(JSON.stringify(runFileJsonSchema()))));

  type Change = (file: Plain, events: Plain[]) => unknown;
  const cases: [string, Change, string, string][] = [
    ['another format', (f) => (f['format'] = 'grellin-run/2'), 'format', 'oneOf'],
    ['an unknown key', (f) => (f['verdict'] = 'pass'), '', 'noUnknown'],
    ['an unknown key in an event', (_f, e) => ((e[0] as Plain)['verdict'] = 'pass'), 'events[0]', 'noUnknown'],
    ['an unknown kind of event', (_f, e) => ((e[0] as Plain)['kind'] = 'decided'), 'events[0].kind', 'oneOf'],
    ['a prototype’s name for a kind', (_f, e) => ((e[0] as Plain)['kind'] = 'constructor'), 'events[0].kind', 'oneOf'],
    ['no events', (f) => delete f['events'], 'events', 'optionality'],
    ['a procedure that is not there', (f) => (f['procedure'] = { id: 'kite.flight', edition: '1' }), 'procedure.id', 'procedureUnknown'],
    ['an edition that is not there', (f) => (f['procedure'] = { id: 'suit.inflation', edition: '99' }), 'procedure.edition', 'editionUnknown'],
    ['a rule set that is not there', (f) => (f['ruleSet'] = 'elsewhere'), 'ruleSet', 'plan.ruleSetUnknown'],
    ['no asset in the role', (f) => (f['assets'] = {}), 'assets', 'plan.roleEmpty'],
    ['a reserved name for a role', (f) => (f['assets'] = { constructor: (f['assets'] as Plain)['suit'] }), 'assets', 'names'],
    ['a day that does not exist', (f) => (f['startedAt'] = '2026-13-01T00:00:00Z'), 'startedAt', 'instant'],
    ['a correlation above 1', (f) => (((f['instruments'] as Plain)['suit'] as Plain)['correlation'] = 1.5), 'instruments.suit.correlation', 'max'],
    ['an unknown unit', (f) => (((f['instruments'] as Plain)['suit'] as Plain)['low'] = { value: 0, unit: 'furlong' }), 'instruments.suit.low.unit', 'unit'],
    [
      'an instrument for no channel',
      (f) => (f['instruments'] = { ...(f['instruments'] as Plain), other: (f['instruments'] as Plain)['suit'] }),
      'instruments.other',
      'channelUnknown',
    ],
    ['a count that skips', (_f, e) => ((e[1] as Plain)['n'] = 9), 'events[1].n', 'countWrong'],
    ['a count that goes back', (_f, e) => ((e[1] as Plain)['n'] = 1), 'events[1].n', 'countWrong'],
    ['a clock that goes back', (_f, e) => ((e[0] as Plain)['at'] = 86_000_000), 'events[1].at', 'timeBack'],
    ['an event that stands twice', (_f, e) => ((e[1] as Plain)['id'] = (e[0] as Plain)['id']), 'events[1].id', 'idRepeated'],
    ['a count in words', (_f, e) => ((e[0] as Plain)['n'] = '1'), 'events[0].n', 'typeError'],
    ['a time that is half a millisecond', (_f, e) => ((e[0] as Plain)['at'] = 0.5), 'events[0].at', 'integer'],
  ];
  it.each(cases)('refuses %s, and says where', (_what, change, path, code) => {
    const file = structuredClone(sample('suit-inflation-pass.json'));
    // One source alone, so that the next event of the list is the next of its count.
    const events = (file['events'] as Plain[]).filter((e) => e['source'] === 'hand');
    file['events'] = events;
    change(file, events);
    expect(flawOf(file)).toEqual({ path, code });
  });

  it.each<[string, unknown, string]>([
    ['no number', Number.NaN, 'typeError'],
    ['no end', Number.POSITIVE_INFINITY, 'finite'],
    ['sixteen digits', 1.234567890123456, 'digits'],
    ['a text', '4.02', 'typeError'],
    ['nothing', null, 'nullable'],
  ])('refuses a reading of %s', (_what, value, code) => {
    const reading = { id: 'a', source: 'hand', n: 1, at: 1, kind: 'reading', channel: 'suit', quantity: { value, unit: 'mbar' } };
    expect(() => parse(eventSchema, reading)).toThrow(Malformed);
    try {
      parse(eventSchema, reading);
    } catch (error) {
      expect((error as Malformed).flaws[0]).toMatchObject({ path: 'quantity.value', code });
    }
  });

  it.each(['a\u0000b', 'a\ud800b', '', 'x'.repeat(2001)])('refuses words that no database should hold: %j', (note) => {
    expect(() => parse(eventSchema, { id: 'a', source: 'hand', n: 1, at: 1, kind: 'disturbed', note })).toThrow(Malformed);
  });

  it('never throws anything but Malformed, whatever JSON it is given', () => {
    fc.assert(
      fc.property(fc.jsonValue(), fc.jsonValue(), (a, b) => {
        for (const file of [a, { ...sample('suit-inflation-pass.json'), events: a, assets: b }, { ...sample('suit-inflation-pass.json'), events: [a, b] }])
          flawOf(file);
      }),
      { seed: 20261125, numRuns: 300 },
    );
  });

  it('judges the same however events are batched and sources interleave', () => {
    const procedure = procedureById('suit.inflation');
    const attributes = { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } };
    const made = procedure && makePlan(procedure, '0'.repeat(64), 'in-h2o-4', { suit: attributes });
    if (!made?.ok) throw new Error('no plan');
    const file = sample('suit-inflation-pass.json');
    const instruments = file['instruments'] as never;
    const { events } = perform({
      plan: made.plan,
      opened: {
        startedAt: '2026-11-25T08:00:00.000Z',
        procedure: '0'.repeat(64),
        ruleSet: 'in-h2o-4',
        assets: { suit: { id: 'GS-01', attributes } },
        instruments,
        clock: 'simulated',
      },
      rig: 'suit',
      fault: 'none',
      sensors: { p1: { unit: 'mbar', resolution: 0.01, noise: 0.01, zero: 0 } },
      inputs: { suit: 'p1' },
      seed: 3,
      readings: 'samples',
      name: (i) => `e${i}`,
    });
    const rest = events.slice(1);
    const judged = (list: readonly RunEvent[]): string =>
      JSON.stringify(
        judgeRunFile({
          ...file,
          ruleSet: 'in-h2o-4',
          assets: { suit: { id: 'GS-01', attributes } },
          events: list.map((e) => (e.source === 'hand' ? { ...e, n: e.n - 1 } : e)),
        }).findings,
      );
    const bySource = [...new Set(rest.map((e) => e.source))].map((s) => rest.filter((e) => e.source === s));
    const wanted = judged(rest);
    fc.assert(
      fc.property(fc.array(fc.nat({ max: bySource.length - 1 }), { maxLength: rest.length }), (picks) => {
        const queues = bySource.map((q) => [...q]);
        const mixed: RunEvent[] = [];
        for (const p of [...picks, ...queues.flatMap((q, i) => q.map(() => i))]) {
          const event = queues[p]?.shift();
          if (event) mixed.push(event);
        }
        expect(judged(mixed)).toBe(wanted);
      }),
      { seed: 20261125, numRuns: 15 },
    );
  });
});
