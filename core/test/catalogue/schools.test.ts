import { describe, expect, it } from 'vitest';
import { practiceOf, setupFor } from '../../src/practice';
import { procedureById, type Attributes, type AttributesByRole, type Plan } from '../../src/procedure';
import type { AssetCopy } from '../../src/run';
import { planOf, practised } from '../testing/attempt';

/** What a school does that another leaves out, and what the item at hand changes of it. */
const with_ = (procedure: string, ruleSet: string, more: Attributes): Plan => {
  const { assets, lists, tables } = setupFor(procedure, ruleSet);
  const items: AttributesByRole = Object.fromEntries(Object.entries(assets).map(([role, a]) => [role, { ...a.attributes, ...more }]));
  return planOf(procedure, ruleSet, items, undefined, lists, tables);
};
const one = (value: number) => ({ value, unit: '1' });
const itemsIn = (plan: Plan, stage: string): readonly string[] => {
  const method = plan.stages.find((s) => s.id === stage)?.method;
  return method?.kind === 'check' ? method.items.map((i) => i.id) : [];
};
const stages = (plan: Plan): readonly string[] => plan.stages.map((s) => s.id);

describe('suits', () => {
  it.each([
    [3, 1, 2],
    [3, 2, 1],
    [2, 2, 0],
  ])('%i exhaust valves and %i adapters: %i plugs, counted in and counted out', (valves, adapters, plugs) => {
    const plan = with_('suit.inflation', 'in-h2o-4', { exhaustValves: one(valves), adapters: one(adapters) });
    expect(itemsIn(plan, 'gather').filter((i) => i.startsWith('plug-in'))).toHaveLength(plugs);
    expect(itemsIn(plan, 'aftercare').filter((i) => i.startsWith('plug-out'))).toHaveLength(plugs);
  });
});

describe('air brakes', () => {
  it('the static minute is left out where the state does, and nowhere else', () => {
    expect(stages(practised('brakes.whole', 'single'))).toContain('static');
    expect(stages(practised('brakes.whole', 'single-applied'))).not.toContain('static');
    expect(stages(practised('brakes.whole', 'single-applied'))).toContain('applied');
  });
});

describe('a combination', () => {
  it('has the axles of every unit in its list: the truck’s and those of both trailers', () => {
    const { assets } = setupFor('brakes.strokes', 'most');
    const [truck] = Object.values(assets);
    const items = { vehicle: { ...truck?.attributes, axles: one(3), units: one(3) }, trailer: { axles: one(2) }, secondTrailer: { axles: one(2) } };
    const told = (units: readonly string[]) => () =>
      planOf('brakes.strokes', 'most', items, undefined, { axles: units.map((unit) => ({ unit, chamber: '30' })) });
    expect(told(['1', '1', '1', '2', '2', '3', '3'])).not.toThrow();
    expect(told(['1', '1', '1', '2', '2', '3'])).toThrow(/plan.listShort/);
    expect(told(['1', '1', '1', '2', '2', '2', '2'])).toThrow(/plan.listUncovered/);
  });
});

describe('cylinders', () => {
  it('a hold in the jacket asks again and again for a look at every joint', () => {
    for (const ruleSet of ['us-metal', 'composite', 'maker'])
      expect(
        practised('cyl.water-jacket', ruleSet)
          .ruleSet.prompts?.filter((p) => p.stage === 'expand')
          .map((p) => [p.every, p.text]),
      ).toEqual([[{ value: 10, unit: 's' }, 'Look along cylinder, fitting and line: no drop anywhere']]);
  });
  it('the expansion is read at the working pressure by those that ask for it', () => {
    const reads = (ruleSet: string): boolean => practised('cyl.water-jacket', ruleSet).stages.some((s) => s.method.kind === 'expansion' && s.method.working !== undefined); // prettier-ignore
    expect(['us-metal', 'composite', 'maker'].map(reads)).toEqual([false, true, true]);
  });
});

describe('tanks', () => {
  it('nitrogen through a coupler has the assembly proved first, through the vent pipe there is none', () => {
    expect(stages(with_('tank.vapour-10', 'in-use', { nitrogenBy: 'coupler' }))).toContain('assembly');
    expect(stages(with_('tank.vapour-10', 'in-use', { nitrogenBy: 'vent' }))).not.toContain('assembly');
  });
  it.each([
    ['sinceDelivery', 8],
    ['sinceLiquidTest', 24],
  ])('two inches wait for %s: %i h', (figure, hours) => {
    const at = (h: number) => () => with_('tank.vapour-2', 'balance', { [figure]: { value: h, unit: 'h' } });
    expect(at(hours)).not.toThrow();
    expect(at(hours - 0.1)).toThrow(/plan.requirementUnmet/);
  });
  it('connected tanks are a list of the day, told by capacity and ullage', () => {
    expect(procedureById('tank.vapour-10')?.lists?.['tanks']?.part).toBe('connected-tank');
    expect(stages(practised('tank.vapour-10', 'in-use')).some((s) => /\.\d$/.test(s))).toBe(true);
  });
});

describe('anaesthesia', () => {
  it('the bag’s size is asked with the figures for this patient, where somebody has said how heavy it is', () => {
    const asked = (more: Attributes) => {
      const method = with_('anaes.circle', 'human', more).stages.find((s) => s.id === 'look')?.method;
      return method?.kind === 'check' ? method.items.find((i) => i.id === 'bag-size')?.text : undefined;
    };
    expect(asked({})).toBeUndefined();
    // 22 kg: 2.2 L by mass, rounded up to a bag that exists; five of 10 mL/kg to six of 15 mL/kg.
    expect(asked({ patientMass: { value: 22, unit: 'kg' } })).toBe(
      'The bag on it is of a size for this patient: by mass 3 L, by the breath from 1.1 L, to 1.98 L',
    );
    expect(asked({ patientMass: { value: 48.5, unit: '[lb_av]' } })).toContain('by mass 3 L');
  });
});

describe('breathing sets', () => {
  it('whether a cylinder is in date is asked of nobody where the set says which it carries', () => {
    expect(itemsIn(with_('ba.user-check', 'quarter', {}), 'gather')).toContain('in-date');
    expect(itemsIn(with_('ba.user-check', 'quarter', { cylinder: 'CY-07' }), 'gather')).not.toContain('in-date');
    // In a run it is asked all the same, unless the opening says to when that cylinder may be used, and that is not past.
    const opened = (carries: AssetCopy['carries']): readonly string[] => itemsIn(practiceOf('ba.user-check', 'quarter', 'breathing-set', 'none', { attributes: { cylinder: 'CY-07' }, ...(carries ? { carries } : {}) }).plan, 'gather'); // prettier-ignore
    expect(opened([{ id: 'CY-07', until: '2026-11-25' }])).not.toContain('in-date');
    for (const other of [undefined, [], [{ id: 'CY-08', until: '2027-01-01' }], [{ id: 'CY-07', until: '2026-11-24' }]])
      expect(opened(other)).toContain('in-date');
  });
});
