import { describe, expect, it } from 'vitest';
import {
  attributesOf,
  catalogue,
  checkProcedure,
  listsUsed,
  makePlan,
  originOf,
  procedureById,
  unknownAttributes,
  unroll,
  type Attributes,
  type Procedure,
  type RuleSet,
} from '../../src/procedure';
import { practiceRun, practiceOf, practiceTimes, perform } from '../../src/practice';
import { judge, planOfRun, type RunEvent } from '../../src/run';
import { found, only, planOf, stageOf } from '../testing/attempt';

/** A list of the day: stages repeated and judged for each of its things. */
const q = (value: number, unit: string) => ({ value, unit });
const gal = (value: number) => q(value, '[gal_us]');
const inch = (value: number) => q(value, "[in_i'H2O]");
const real = procedureById('tank.vapour-10') as Procedure;
/** With figures that are told of each tank instead of a kept table's: each has a time and a loss of its own. */
const ten = JSON.parse(JSON.stringify(real).replaceAll(/\{"table":"times","figure":"(\w+)"\}/g, '{"attribute":"tanks.$1"}')) as Procedure;
const waited = {
  tank: { sinceDelivery: q(9, 'h'), sinceLiquidTest: q(25, 'h'), sinceFuelling: q(31, 'min'), tanks: q(1, '1'), nitrogenBy: 'coupler', tieTest: false },
};
const tank = (more: Attributes = {}): Attributes => ({ capacity: gal(10_000), ullage: gal(4000), hold: q(10, 'min'), permittedLoss: inch(0.5), ...more });
const planned = (tanks: readonly Attributes[], ruleSet = 'in-use') => planOf(ten, ruleSet, waited, undefined, { tanks });
const refused = (tanks: readonly Attributes[]) => {
  const made = makePlan(ten, 'd', 'in-use', waited, undefined, { lists: { tanks } });
  return made.ok ? 'made' : made.refusal;
};

describe('a stage that is repeated', () => {
  it('stands in the plan once for each tank, under its name, with its own figures and limits', () => {
    const plan = planned([tank(), tank({ name: 'diesel', hold: q(5, 'min'), permittedLoss: inch(0.2), ullage: gal(2000) })]);
    expect(plan.stages.map((s) => s.id)).toEqual(['before', 'assembly', 'pressure.1', 'pressure.2', 'find', 'let-down']);
    expect(plan.stages.find((s) => s.id === 'find')?.seeks).toEqual(['pressure.1', 'pressure.2']);
    expect(plan.stages.map((s) => s.title)).toContain('Hold at ten inches: Tank 2, diesel');
    expect([plan.figures['hold.1'], plan.figures['hold.2'], plan.figures['hold']]).toEqual([q(10, 'min'), q(5, 'min'), undefined]);
    expect(plan.figures['settle']).toEqual(q(10, 'min')); // what hangs on no tank is laid down once
    const limits = plan.limits.filter((l) => originOf(l.stage) === 'pressure').map((l) => [l.id, l.stage, l.resolved]);
    expect(limits).toEqual([['in-use.loss.1', 'pressure.1', inch(0.5)], ['in-use.loss.2', 'pressure.2', inch(0.2)]]); // prettier-ignore
    expect(plan.procedure.cautions.map((c) => c.before)).toEqual(expect.arrayContaining(['pressure.1', 'pressure.2']));
    expect(plan.ruleSet.prompts?.map((p) => p.stage)).toEqual(['pressure.1', 'pressure.2']);
    expect(JSON.stringify(stageOf(plan, 'pressure.2'))).not.toContain('"each"');
  });

  it('judges each by its own figure: one tight, one leaks', () => {
    const plan = planned([tank({ hold: q(5, 'min') }), tank({ hold: q(5, 'min'), permittedLoss: inch(0.1) })]);
    const w = { readings: { tank: [[0.2, 0], [299, 11], [999, 10], [1000, 10], [1300, 9.7]] }, marks: { nitrogen: 300, settle: 901, trim: 999.5, start: 1000 } } as const; // prettier-ignore
    expect(only(found(plan, 'pressure.1', w)).verdict).toBe('pass');
    expect(only(found(plan, 'pressure.2', w)).verdict).toBe('fail');
  });

  it('must be done for every one: a run that leaves one out has no pass', () => {
    const one = practiceRun('tank.vapour-10', 'in-use', 'vapour-tank', 'none');
    expect(judge(one.plan, one.state).verdict).toBe('pass');
    const practice = practiceOf('tank.vapour-10', 'in-use', 'vapour-tank', 'none');
    const lists = { tanks: [tank(), tank({ name: 'diesel' })] };
    const made = planOfRun(real, { ...practice.opened, lists });
    if (!made.ok) throw new Error(made.refusal.code);
    // What was done for one tank, under a plan of two.
    const short = judge(made.plan, one.state);
    expect(short.verdict).not.toBe('pass');
    const both = perform({ ...practice, plan: made.plan, opened: { ...practice.opened, lists } });
    // The rig is one tank, and its hand does not let it down for the second: what stood at its pressure before was not filled.
    const { findings } = judge(made.plan, both.state);
    expect(findings.filter((f) => f.stage === 'pressure.1').map((f) => f.verdict)).toEqual(['pass']);
    expect(findings.filter((f) => f.stage === 'pressure.2').map((f) => f.verdict)).not.toContain('pass');
    const begun = both.events.filter((e): e is RunEvent & { kind: 'began' } => e.kind === 'began').map((e) => e.stage);
    expect(begun).toEqual(expect.arrayContaining(['pressure.1', 'pressure.2']));
  });
});

describe('tanks that are joined', () => {
  it('are one space, watched as one: ullage is added up, in the unit of the first', () => {
    const plan = planned([tank({ manifold: 'A', ullage: gal(1600) }), tank(), tank({ manifold: ' a', ullage: q(7570.82, 'L'), name: 'premium' })]);
    expect(plan.stages.filter((s) => originOf(s.id) === 'pressure').map((s) => s.title)).toEqual([
      'Hold at ten inches: Tanks 1 + 3',
      'Hold at ten inches: Tank 2',
    ]);
    expect((plan.assets['tanks-1']?.['ullage'] as { value: number }).value).toBeCloseTo(1600 + 2000, 1);
    expect(plan.assets['tanks-1']?.['capacity']).toEqual(gal(20_000));
  });
  it('have one time and one permitted loss', () => {
    expect(refused([tank({ manifold: 'A' }), tank({ manifold: 'A', permittedLoss: inch(0.6) })])).toEqual({
      code: 'plan.listDiffers',
      values: { list: 'Tanks', attribute: 'permittedLoss' },
    });
  });
  it('each have ullage enough all the same, and no more than thirty thousand gallons together', () => {
    // 15 % of 10 000; 300 under 1000; the sum. Common practice.
    expect(refused([tank({ manifold: 'A' }), tank({ manifold: 'A', ullage: gal(1499) })])).toMatchObject({ code: 'plan.requirementUnmet', values: { text: expect.stringContaining('Tank 2: Ullage is too small: 15 %') as string } }); // prettier-ignore
    expect(refused([tank(), tank({ ullage: gal(1500) })])).toBe('made');
    expect(refused([tank({ capacity: gal(999), ullage: gal(299) })])).toMatchObject({ values: { text: expect.stringContaining('Tank 1: Ullage is too small: 300') as string } }); // prettier-ignore
    expect(refused([tank({ capacity: gal(999), ullage: gal(300) })])).toBe('made');
    expect(refused([tank({ capacity: gal(50_000), ullage: gal(20_000) }), tank({ capacity: gal(50_000), ullage: gal(10_001) })])).toMatchObject({ values: { text: 'More than 30 000 US gal of ullage together' } }); // prettier-ignore
    expect(refused([tank({ capacity: gal(50_000), ullage: gal(20_000) }), tank({ capacity: gal(50_000), ullage: gal(10_000) })])).toBe('made');
  });
});

describe('what the register says there is', () => {
  const known = (count: Attributes, tanks: number) => {
    const { sinceDelivery, sinceLiquidTest, sinceFuelling } = waited.tank;
    const made = makePlan(
      real,
      'd',
      'in-use',
      {
        tank: {
          sinceDelivery,
          sinceLiquidTest,
          sinceFuelling,
          authority: practiceTimes.id,
          aboveGround: false,
          nitrogenBy: 'coupler',
          tieTest: false,
          ...count,
        },
      },
      undefined,
      {
        lists: { tanks: Array.from({ length: tanks }, () => ({ capacity: gal(10_000), ullage: gal(4000) })) },
        tables: { times: practiceTimes },
      },
    );
    return made.ok ? 'made' : made.refusal;
  };
  it('is not left out: of three tanks none stays unlooked at', () => {
    expect(known({ tanks: q(3, '1') }, 2)).toEqual({ code: 'plan.listShort', values: { list: 'Tanks', least: '3' } });
    expect([known({ tanks: q(3, '1') }, 3), known({ tanks: q(3, '1') }, 4)]).toEqual(['made', 'made']);
    expect(known({}, 3)).toEqual({ code: 'plan.attributeUnknown', values: { attributes: 'tank.tanks' } });
    expect(unknownAttributes(real, real.ruleSets[0] as RuleSet, { tank: {} })).toContain('tank.tanks');
  });
  it('and what may be lost is of the item: nobody chooses it on the day', () => {
    for (const p of catalogue)
      for (const row of Object.values(p.lists ?? {}))
        expect(attributesOf(row.part).map((a) => a.id)).not.toEqual(expect.arrayContaining([expect.stringMatching(/loss|limit|hold/i)]));
  });
});

describe('what a list lacks', () => {
  it('refuses the plan: no thing, a thing without its figure, more than there can be', () => {
    expect(refused([])).toEqual({ code: 'plan.listEmpty', values: { list: 'Tanks' } });
    expect(refused([tank(), { capacity: gal(10_000), ullage: gal(4000), hold: q(10, 'min') }])).toMatchObject({ code: 'plan.attributeUnknown' });
    expect(refused(Array.from({ length: 13 }, () => tank()))).toMatchObject({ code: 'plan.listLong', values: { most: '12' } });
    expect(makePlan(ten, 'd', 'in-use', waited).ok).toBe(false);
  });
  it('a rule set that repeats nothing for it does without', () => {
    const [rules] = ten.ruleSets as readonly [RuleSet];
    const none = { ...rules, skip: ['pressure'], requires: [], limits: rules.limits.filter((l) => l.stage !== 'pressure') };
    expect(listsUsed(ten, none)).toEqual([]);
    const made = unroll(ten, none, {});
    expect('code' in made ? made.code : made.parts).toEqual({});
  });
});

describe('vaporisers', () => {
  const machine = procedureById('anaes.machine') as Procedure;
  const withBulb = (names: readonly string[]) =>
    planOf(machine, 'general', { machine: { outletCheckValve: true, vaporisers: q(2, '1') } }, undefined, { vaporisers: names.map((name) => ({ name })) });
  it('are each looked at and each squeezed for, however many there are', () => {
    const plan = withBulb(['left', 'right', 'spare']);
    expect(plan.stages.filter((s) => originOf(s.id) === 'bulb-on').map((s) => s.title)).toEqual([
      'Suction bulb, vaporiser on: Vaporiser 1, left',
      'Suction bulb, vaporiser on: Vaporiser 2, right',
      'Suction bulb, vaporiser on: Vaporiser 3, spare',
    ]);
    expect(plan.stages.filter((s) => originOf(s.id) === 'dials')).toHaveLength(3);
  });
});

describe('the checker of lists', () => {
  const spoilt = (change: (p: Record<string, unknown> & { stages: Record<string, unknown>[]; ruleSets: Record<string, unknown>[] }) => void) => {
    const copy = structuredClone(real) as unknown as Parameters<typeof change>[0];
    change(copy);
    return checkProcedure(copy as unknown as Procedure).map((f) => f.code);
  };
  const hold = (p: { stages: Record<string, unknown>[] }) => p.stages.find((s) => s['id'] === 'pressure') ?? {};
  it.each<[string, Parameters<typeof spoilt>[0], string]>([
    ['a list of nothing known', (p) => (p['lists'] = { tanks: { ...ten.lists?.['tanks'], part: 'kite' } }), 'partUnknown'],
    ['a list that no stage is repeated for', (p) => (p['lists'] = { ...ten.lists, pumps: ten.lists?.['tanks'] }), 'listUnused'],
    ['a stage that is repeated for no list', (p) => (hold(p)['each'] = { list: 'pumps' }), 'listUnknown'],
    ['a step once that the stage has not', (p) => (hold(p)['each'] = { list: 'tanks', once: ['dance'] }), 'stageUnknown'],
    ['a stage that is named as a copy', (p) => (hold(p)['id'] = 'pressure.1'), 'idReserved'],
    [
      'things joined by what they have not',
      (p) => (p['lists'] = { tanks: { ...ten.lists?.['tanks'], together: { by: 'colour', sums: [] } } }),
      'attributeUnknown',
    ],
    [
      'a figure of each thing by the name of a step',
      (p) => ((p.ruleSets[0]?.['parameters'] as Record<string, unknown>)['settle'] = { value: { attribute: 'tanks.ullage' }, source: { title: 'x' } }),
      'figureShadowed',
    ],
  ])('finds %s', (_what, change, code) => expect(spoilt(change)).toContain(code));
  it('finds nothing in it as it is', () => expect(spoilt(() => undefined)).toEqual([]));
});
