import { makePlan, procedureById, type Attributes, type Procedure } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { listLack, listsOfDay } from './dayLists';

const brakes = procedureById('brakes.whole') as Procedure;
const low = brakes.ruleSets.find((r) => r.id === 'build-from-low');
const one = { value: 1, unit: '1' };
const signals = { lowAirLamp: true, lowAirBuzzer: true, secondLamp: false, lowAirMessage: false };
const lists = (attributes: Attributes, told: Readonly<Record<string, readonly Attributes[]>> = {}) =>
  low ? listsOfDay(brakes, low, 'vehicle', { attributes, told: { 'brakes.whole': told } }) : [];

describe('the lists of a day', () => {
  it('begin with what was told last and as many as the register counts, each of the vehicle itself until somebody says otherwise', () => {
    const axle = { unit: '1', chamber: '20' };
    expect(lists({ axles: { value: 3, unit: '1' } }, { axles: [axle] })[0]?.begins).toEqual([axle, { unit: '1' }, { unit: '1' }]);
    expect(lists({})[0]?.begins).toEqual([{ unit: '1' }]);
    expect(lists({})[0]?.asked.map((a) => a.id)).toEqual(['name', 'unit', 'chamber']);
  });

  it('say what is lacking of them: a figure of a thing, a thing, a unit', () => {
    const why = (axles: readonly Attributes[], vehicle: Attributes): string | null => {
      const attributes = { school: 'general', units: one, ...signals, ...vehicle };
      const made = makePlan(brakes, '', 'build-from-low', { vehicle: attributes }, undefined, { lists: { axles } });
      return made.ok ? 'open' : listLack(made.refusal.code, made.refusal.values, lists(attributes), { axles });
    };
    const axle = (unit: string): Attributes => ({ unit, chamber: '20' });
    expect(why([axle('1')], { axles: one })).toBe('open');
    expect(why([{ unit: '1' }], { axles: one })).toBe('Axle 1: say its chamber type.');
    expect(why([axle('1')], { axles: { value: 2, unit: '1' } })).toBe('The register says there are more: 2 at least.');
    expect(why([axle('1'), axle('1')], { axles: one, units: { value: 2, unit: '1' } })).toBe('Each of the 2 has to stand in the list: Axles.');
    expect(why([axle('1')], { axles: one, reservoir: 'x', school: 'general' })).toBe('open');
    expect(listLack('plan.figureMissing', {}, [], {})).toBeNull();
  });
});
