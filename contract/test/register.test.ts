import { readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { describe, expect, it } from 'vitest';
import {
  assetChangeSchema,
  calibrationSchema,
  deferralSchema,
  Malformed,
  newObligationSchema,
  parse,
  registerFileSchema,
  registerJsonSchema,
  registerQuerySchema,
} from '../src';

const flawed = (schema: Parameters<typeof parse>[0], value: unknown): string[] => {
  try {
    parse(schema, value);
    return [];
  } catch (error) {
    if (!(error instanceof Malformed)) throw error;
    return error.flaws.map((f) => `${f.path} ${f.code}`);
  }
};
const suit = {
  tag: 'GS-01',
  serial: 'S1',
  class: 'gas-tight-suit',
  title: 'Suit',
  place: 'Store',
  practice: false,
  attributes: { volume: { value: 200, unit: 'L' } },
};
const obligation = {
  asset: '01a21210-5165-73ba-a61a-96e6123016d0',
  procedure: 'suit.inflation',
  ruleSet: 'in-h2o-4',
  interval: 'P1Y',
  counting: 'rolling',
  anchor: '2026-11-25',
};
const q = (value: number) => ({ value, unit: 'mbar' });
const calibration = { on: '2026-11-25', due: '2027-11-25', by: 'House', certificate: 'K-1', points: [{ nominal: q(1), asFound: q(1), asLeft: q(1) }] };

describe('the bodies of the register', () => {
  it.each<[string, Parameters<typeof parse>[0], unknown, string[]]>([
    ['a change that says nothing but its revision', assetChangeSchema, { revision: 1 }, []],
    ['a change without a revision', assetChangeSchema, { place: 'X' }, ['revision required']],
    ['a life without an end', assetChangeSchema, { revision: 1, life: null, madeOn: null }, []],
    ['a life of hours', assetChangeSchema, { revision: 1, life: 'PT5H' }, ['life interval']],
    ['a month', assetChangeSchema, { revision: 1, madeOn: '2024-05' }, []],
    ['a month that no year has', assetChangeSchema, { revision: 1, madeOn: '2024-13' }, ['madeOn date']],
    ['something that is no date', assetChangeSchema, { revision: 1, madeOn: 'May' }, ['madeOn date']],
    ['what is owed only after use', newObligationSchema, { ...obligation, interval: null, triggers: ['afterUse'] }, []],
    ['a trigger that nobody knows', newObligationSchema, { ...obligation, triggers: ['afterLunch'] }, ['triggers[0] oneOf']],
    ['an interval that is not said', newObligationSchema, { ...obligation, interval: undefined }, ['interval defined']],
    ['a deferral without its reason', deferralSchema, { to: '2027-01-01' }, ['reason required']],
    ['a calibration', calibrationSchema, calibration, []],
    ['a calibration without a point', calibrationSchema, { ...calibration, points: [] }, ['points low']],
    ['a page of a class that there is', registerQuerySchema, { class: 'dry-suit', state: 'due', limit: '50' }, []],
    ['a page with something else in it', registerQuerySchema, { shelf: '1' }, [' unknown']],
  ])('%s', (_, schema, value, flaws) => {
    const found = flawed(schema, value);
    expect(found.map((f) => f.split(' ')[0])).toEqual(flaws.map((f) => f.split(' ')[0]));
  });
});

describe('the register’s file', () => {
  const published = JSON.parse(readFileSync(new URL('../../docs/register.schema.json', import.meta.url), 'utf8')) as Record<string, unknown>;
  const valid = new Ajv2020({ strict: false }).compile(published);

  it('has the published JSON Schema that its own schema makes', () => expect(published).toEqual(registerJsonSchema()));

  it.each([
    ['a sound file', { format: 'grellin-register/1', assets: [suit, { ...suit, madeOn: '2024-05', life: 'P12Y' }] }, true],
    ['another format', { format: 'grellin-register/9', assets: [] }, false],
    ['an item without a serial', { format: 'grellin-register/1', assets: [{ ...suit, serial: undefined }] }, false],
    ['an item with something else in it', { format: 'grellin-register/1', assets: [{ ...suit, colour: 'red' }] }, false],
  ])('%s is judged alike by both', (_, file, sound) => {
    const plain: unknown = JSON.parse(JSON.stringify(file));
    expect([flawed(registerFileSchema, plain).length === 0, valid(plain)]).toEqual([sound, sound]);
  });
});
