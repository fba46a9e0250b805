import { describe, expect, it } from 'vitest';
import { practiceTimes, setupFor } from '../../src/practice';
import {
  catalogue,
  checkProcedure,
  makePlan,
  oddFigures,
  procedureById,
  tableFlaws,
  tableOn,
  tablesUsed,
  unknownAttributes,
  type Attributes,
  type FigureTable,
  type Procedure,
  type Tables,
} from '../../src/procedure';
import { judge, planOfRun } from '../../src/run';
import { practiceRun } from '../../src/practice';

/** What an authority lays down is a document that an officer keeps: no run chooses it, and no item carries its figures. */
const q = (value: number, unit: string) => ({ value, unit });
const gal = (value: number) => q(value, '[gal_us]');
const inch = (value: number) => q(value, "[in_i'H2O]");
const ten = procedureById('tank.vapour-10') as Procedure;
const line = (upTo: number, hold: number, loss: number): FigureTable['lines'][number] => ({
  upTo: gal(upTo),
  gives: { hold: q(hold, 'min'), permittedLoss: inch(loss) },
});
const table = (more: Partial<FigureTable> = {}): FigureTable => ({
  kind: 'vapour-times',
  id: 'coast',
  edition: '3',
  title: 'Times by ullage',
  source: { title: 'Coast office' },
  from: '2026-01-01',
  lines: [line(3000, 5, 0.3), line(10_000, 10, 0.5), line(30_000, 15, 0.7)],
  ...more,
});
const facts: Attributes = {
  sinceDelivery: q(9, 'h'),
  sinceLiquidTest: q(25, 'h'),
  sinceFuelling: q(31, 'min'),
  tanks: q(1, '1'),
  nitrogenBy: 'vent',
  tieTest: false,
  authority: 'coast',
};
const planned = (ullage: number, tables: Tables = { times: table() }, more: Attributes = {}, on = '2026-12-01', ruleSet = 'in-use') =>
  makePlan(ten, 'd', ruleSet, { tank: { ...facts, ...more } }, on, { lists: { tanks: [{ capacity: gal(12_000), ullage: gal(ullage) }] }, tables });
const refusal = (made: ReturnType<typeof makePlan>) => (made.ok ? 'made' : made.refusal);

describe('the line that holds', () => {
  it.each([
    [2000, 5, 0.3],
    [3000, 5, 0.3],
    [3000.1, 10, 0.5],
    [10_000, 10, 0.5],
    [10_001, 15, 0.7],
  ])('%f gal of ullage are watched for %f min and may lose %f inH2O', (ullage, hold, loss) => {
    const made = planned(ullage);
    if (!made.ok) throw new Error(JSON.stringify(made.refusal));
    expect(made.plan.figures['hold.1'] ?? made.plan.figures['hold']).toEqual(q(hold, 'min'));
    const limit = made.plan.limits.find((l) => l.of === 'loss' && l.id.startsWith('in-use.loss'));
    expect(limit?.resolved).toEqual(inch(loss));
    // Certificate and finding name the edition.
    expect(limit?.source).toEqual({ title: 'Coast office', clause: 'Times by ullage, edition 3' });
  });

  it('is of the tanks that are joined, added up', () => {
    const joined = { capacity: gal(12_000), ullage: gal(2900), manifold: 'A' };
    const made = makePlan(ten, 'd', 'in-use', { tank: { ...facts, tanks: q(2, '1') } }, '2026-12-01', {
      lists: { tanks: [joined, joined] },
      tables: { times: table() },
    });
    if (!made.ok) throw new Error(JSON.stringify(made.refusal));
    expect(made.plan.limits.find((l) => l.of === 'loss')?.resolved).toEqual(inch(0.5));
  });

  it('is none beyond the last: nobody guesses on', () => {
    expect(refusal(planned(30_000, { times: table({ lines: [line(3000, 5, 0.3)] }) }))).toEqual({
      code: 'plan.tableShort',
      values: { table: 'Times by ullage, edition 3', upTo: '3000 US gal' },
    });
  });
});

describe('no run without the table that its item names', () => {
  it.each([
    ['none is kept', {}, {}],
    ['another is handed in', { times: table({ id: 'inland' }) }, {}],
    ['it is of another kind', { times: table({ kind: 'else' }) }, {}],
    ['it does not hold yet', { times: table({ from: '2026-12-02' }) }, {}],
    ['it holds no longer', { times: table({ until: '2026-11-30' }) }, {}],
  ] as const)('%s', (_, tables, more) => {
    expect(refusal(planned(4000, tables, more))).toEqual({ code: 'plan.tableMissing', values: { table: 'coast' } });
  });
  it('nobody has said whose table holds: it is asked of the item, and never left out', () => {
    const bare = Object.fromEntries(Object.entries(facts).filter(([id]) => id !== 'authority'));
    const made = makePlan(ten, 'd', 'in-use', { tank: bare }, '2026-12-01', {
      lists: { tanks: [{ capacity: gal(12_000), ullage: gal(4000) }] },
      tables: { times: table() },
    });
    expect(refusal(made)).toEqual({ code: 'plan.attributeUnknown', values: { attributes: 'tank.authority' } });
    const [rules] = ten.ruleSets;
    expect(rules && unknownAttributes(ten, rules, { tank: {} })).toContain('tank.authority');
  });
  it('a rule set with figures of its own asks for none', () => {
    expect(planned(4000, {}, {}, '2026-12-01', 'above-ground').ok).toBe(true);
    expect(ten.ruleSets.map((r) => tablesUsed(ten, r))).toEqual([['times'], ['times'], []]);
  });
  it('a run that was opened under an edition keeps it, whatever came after', () => {
    const { plan, state } = practiceRun('tank.vapour-10', 'in-use', 'vapour-tank', 'none');
    expect(judge(plan, state).verdict).toBe('pass');
    const opened = state.opened as NonNullable<typeof state.opened>;
    const stricter = planOfRun(ten, { ...opened, tables: { times: { ...practiceTimes, edition: '2', lines: [line(30_000, 10, 0.1)] } } });
    const same = planOfRun(ten, opened);
    if (!stricter.ok || !same.ok) throw new Error('a plan');
    const loss = (made: typeof same) => made.plan.limits.find((l) => l.of === 'loss')?.resolved;
    expect([loss(same), loss(stricter)]).toEqual([inch(0.5), inch(0.1)]);
  });
});

describe('a table that is not sound', () => {
  it.each<[string, Partial<FigureTable>, string, number]>([
    ['of a kind that nobody knows', { kind: 'else' }, 'kindUnknown', 0],
    ['with its days the other way round', { until: '2025-12-31' }, 'dates', 0],
    ['whose lines do not rise', { lines: [line(3000, 5, 0.3), line(3000, 10, 0.5)] }, 'byOrder', 2],
    ['whose lines do not rise, in another unit', { lines: [line(3000, 5, 0.3), { ...line(1, 5, 0.3), upTo: q(11_300, 'L') }] }, 'byOrder', 2],
    ['found by a pressure', { lines: [{ ...line(1, 5, 0.3), upTo: q(3, 'bar') }] }, 'byDimension', 1],
    ['without a figure', { lines: [{ upTo: gal(1), gives: { hold: q(5, 'min') } }] }, 'figureMissing', 1],
    ['with a figure of another kind', { lines: [{ upTo: gal(1), gives: { hold: inch(5), permittedLoss: inch(0.5) } }] }, 'figureDimension', 1],
    [
      'with a figure nobody asked for',
      { lines: [{ upTo: gal(1), gives: { hold: q(5, 'min'), permittedLoss: inch(0.5), more: q(1, '1') } }] },
      'figureUnknown',
      1,
    ],
    ['with nothing to wait for', { lines: [line(3000, 0, 0.3)] }, 'figureLow', 1],
    ['with a loss under nothing', { lines: [line(3000, 5, -1)] }, 'figureLow', 1],
  ])('%s', (_, more, code, at) => {
    expect(tableFlaws(table(more))).toMatchObject([{ code, line: at }]);
  });
  it('a sound one has no flaw, and a figure that nobody would expect is asked about', () => {
    expect(tableFlaws(table())).toEqual([]);
    expect(oddFigures(table())).toEqual([]);
    expect(oddFigures(table({ lines: [line(3000, 5, 50)] }))).toEqual(['Line 1: Permitted loss 50 inH2O']);
  });
});

describe('the edition of a day', () => {
  const editions = [
    table({ edition: '1', from: '2020-01-01', until: '2026-06-30' }),
    table({ edition: '2', from: '2026-07-01' }),
    table({ edition: '3', from: '2027-01-01' }),
  ];
  it.each([
    ['2019-12-31', undefined],
    ['2020-01-01', '1'],
    ['2026-06-30', '1'],
    ['2026-07-01', '2'],
    ['2026-12-31', '2'],
    ['2027-01-01', '3'],
  ])('on %s it is %s', (day, edition) => {
    expect(tableOn(editions, day)?.edition).toBe(edition);
    expect(tableOn([...editions].reverse(), day)?.edition).toBe(edition);
  });
});

describe('the checker', () => {
  const flaws = (change: (p: Record<string, unknown>) => unknown): readonly string[] => {
    const copy = JSON.parse(JSON.stringify(ten)) as Record<string, unknown>;
    change(copy);
    return checkProcedure(copy as unknown as Procedure).map((f) => f.code);
  };
  it.each<[string, (p: Record<string, unknown>) => unknown, string]>([
    ['a table of no known kind', (p) => (p['tables'] = { times: { kind: 'else', by: 'tanks.ullage', named: 'tank.authority' } }), 'tableUnknown'],
    ['a table that the document does not have', (p) => (p['tables'] = {}), 'tableUnknown'],
    ['a table that nobody takes a figure from', (p) => (p['tables'] = { ...ten.tables, more: ten.tables?.['times'] }), 'tableUnused'],
    [
      'lines found by what no item has',
      (p) => (p['tables'] = { times: { kind: 'vapour-times', by: 'tanks.depth', named: 'tank.authority' } }),
      'attributeUnknown',
    ],
  ])('refuses %s', (_, change, code) => {
    expect(flaws(change)).toContain(code);
  });
  it('refuses to have anything of the item taken over from another run', () => {
    expect(flaws((p) => ((p['stages'] as Record<string, unknown>[])[2] = { ...ten.stages[2], proves: true }))).toContain('provesItem');
    for (const p of catalogue) for (const s of p.stages.filter((x) => x.proves)) expect(s.phase, `${p.id} ${s.id}`).toBe('rig');
  });
  it('the practice bench has the table that its rule set asks for', () => {
    expect(setupFor('tank.vapour-10', 'in-use').tables?.['times']).toEqual(practiceTimes);
    expect(tableFlaws(practiceTimes)).toEqual([]);
  });
});
