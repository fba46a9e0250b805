import { describe, expect, it } from 'vitest';
import { setupFor, handAt, rigFor, truthOf } from '../../src/practice';
import { allFormulas, assetClass, catalogue, checkProcedure, formulaById, makePlan, type Procedure, type RuleSet } from '../../src/procedure';
import { rigById, rigs } from '../../src/rig';
import { planOf, practised } from '../testing/attempt';

describe('every document of the catalogue', () => {
  it.each(catalogue.map((p) => [p.id, p] as const))('%s: sources, names, reachable stages, cautions, faults and aftercare', (_, p) =>
    expect(checkProcedure(p)).toEqual([]),
  );
  it('has one for every part of the trade', () => expect(catalogue).toHaveLength(27));
  it.each(catalogue.map((p) => [p.id, p] as const))('%s: its rig has every fault it names, and its setup makes a plan for every rule set', (id, p) => {
    const rig = rigById(rigFor(id) ?? '');
    for (const r of p.ruleSets) {
      for (const fault of Object.keys(truthOf(id, r.id))) expect(rig?.faults, fault).toContain(fault);
      expect(practised(id, r.id).stages.length).toBeGreaterThan(0);
    }
  });
  it('puts every rig of the program to use', () => expect([...new Set(catalogue.map((p) => rigFor(p.id)))].sort()).toEqual(rigs.map((r) => r.id).sort()));
  it('knows no setup and no moves for a procedure that is not there', () => {
    expect(() => setupFor('kite.flight', 'any')).toThrow(RangeError);
    expect(rigFor('kite.flight')).toBeUndefined();
    expect(handAt('kite.flight', 'up')).toEqual([]);
    expect(truthOf('kite.flight', 'any')).toEqual({});
    expect(assetClass('kite')).toBeUndefined();
  });
});

describe('the checker', () => {
  const sound = catalogue.find((p) => p.id === 'tank.vapour-2') as Procedure;
  const [first] = sound.ruleSets as readonly [RuleSet];
  const withRules = (change: Partial<RuleSet>): Procedure => ({ ...sound, ruleSets: [{ ...first, ...change }] });
  const limit = first.limits[0];
  it.each<[string, Procedure]>([
    ['formulaUnknown', withRules({ limits: [{ ...(limit as NonNullable<typeof limit>), value: { formula: 'guess', of: {} } }] })],
    ['strictWithoutOrder', withRules({ strict: true })],
    [
      'attributeUnknown',
      withRules({ requires: [{ id: 'r', text: 't', of: { attribute: 'tank.moons' }, op: '>=', value: { value: 1, unit: '1' }, source: { title: 'x' } }] }),
    ],
    [
      'sourceMissing',
      withRules({ requires: [{ id: 'r', text: 't', of: { value: 1, unit: '1' }, op: '>=', value: { value: 1, unit: '1' }, source: { title: ' ' } }] }),
    ],
    [
      'unitUnknown',
      withRules({
        parameters: { ...first.parameters, hold: { value: { rows: [{ when: { all: [] }, value: { value: 5, unit: 'moon' } }] }, source: { title: 'x' } } },
      }),
    ],
    ['figureUnknown', withRules({ parameters: {} })],
    ['stageWithoutLimit', withRules({ limits: [] })],
    ['measureUnfit', withRules({ limits: [{ ...(limit as NonNullable<typeof limit>), of: 'stroke' }] })],
    ['channelUnknown', withRules({ limits: [{ ...(limit as NonNullable<typeof limit>), channel: 'moon' }] })],
    ['figureDimension', withRules({ limits: [{ ...(limit as NonNullable<typeof limit>), value: { value: 1, unit: 's' } }] })],
  ])('finds %s', (code, p) => expect(checkProcedure(p).map((f) => f.code)).toContain(code));
});

describe('figures', () => {
  it.each([
    ['lesser', { a: { value: 55, unit: '[psi]' }, b: { value: 50, unit: '[psi]' } }, 50],
    ['lesser', { a: { value: 55, unit: '[psi]' }, b: { value: 62.5, unit: '[psi]' } }, 55],
    ['greater', { a: { value: 1, unit: 'bar' }, b: { value: 2000, unit: 'mbar' } }, 2],
    ['sum', { a: { value: 1, unit: 'bar' }, b: { value: 500, unit: 'mbar' } }, 1.5],
    ['less', { a: { value: 1, unit: 'bar' }, b: { value: 500, unit: 'mbar' } }, 0.5],
    ['share', { of: { value: 4500, unit: '[psi]' }, share: { value: 90, unit: '%' } }, 4050],
    ['share', { of: { value: 2216, unit: '[psi]' }, share: { value: 90, unit: '%' } }, 1994.4],
    ['vapourEnd', { k: { value: 500.887, unit: '1' }, ullage: { value: 6000, unit: '[gal_us]' } }, 1.8398],
  ])('%s of %j (SCBA-E1, AIR-E5, VR-E3)', (id, given, want) => expect(formulaById(id)?.compute(given as never)?.value).toBeCloseTo(want, 4));
  it('have none of what was not given', () => {
    for (const f of allFormulas) expect(f.compute({}), f.id).toBeUndefined();
    expect(formulaById('vapourEnd')?.compute({ k: { value: 1, unit: '1' }, ullage: { value: 0, unit: '[gal_us]' } })).toBeUndefined();
    expect(formulaById('guess')).toBeUndefined();
  });
  const gallons = (value: number) => ({ value, unit: '[gal_us]' });
  const tanks = [{ ullage: gallons(10_000), capacity: gallons(20_000) }] as const;
  const tank = {
    sinceDelivery: { value: 9, unit: 'h' },
    sinceLiquidTest: { value: 25, unit: 'h' },
    sinceFuelling: { value: 31, unit: 'min' },
    tanks: { value: 1, unit: '1' },
    nozzles: { value: 6, unit: '1' },
    latitude: { value: 69.6, unit: '1' },
    longitude: { value: 18.9, unit: '1' },
  };
  it.each([
    ['too little ullage', {}, [{ ...tanks[0], ullage: gallons(900) }], 'plan.requirementUnmet'],
    ['too little in one of two', {}, [tanks[0], { ...tanks[0], ullage: gallons(900) }], 'plan.requirementUnmet'],
    ['too much', {}, [{ capacity: gallons(30_000), ullage: gallons(26_000) }], 'plan.requirementUnmet'],
    ['too much together', {}, [tanks[0], tanks[0], { ...tanks[0], ullage: gallons(5001) }], 'plan.requirementUnmet'],
    ['no number of nozzles', { nozzles: 'six' }, tanks, 'plan.figureMissing'],
    ['no ullage', {}, [{ ...tanks[0], ullage: '' }], 'plan.figureMissing'],
    ['no tank', {}, [], 'plan.listEmpty'],
    ['one of two tanks', { tanks: { value: 2, unit: '1' } }, tanks, 'plan.listShort'],
    ['thirteen tanks', {}, Array.from({ length: 13 }, () => ({ capacity: gallons(200), ullage: gallons(60) })), 'plan.listLong'],
  ])('%s refuses the run', (_, change, list, code) => {
    const p = catalogue.find((x) => x.id === 'tank.vapour-2') as Procedure;
    const made = makePlan(p, 'd', 'balance', { tank: { ...tank, ...change } }, undefined, { lists: { tanks: list } });
    expect(made.ok ? 'made' : made.refusal.code).toBe(code);
  });
  it('limits are in force between their days, and on them', () => {
    const p = catalogue.find((x) => x.id === 'tank.vapour-2') as Procedure;
    const dated: Procedure = {
      ...p,
      ruleSets: p.ruleSets.map((r) => ({ ...r, limits: r.limits.map((l) => ({ ...l, from: '2026-01-01', until: '2026-12-31' })) })),
    };
    const on = (day: string): number => planOf(dated, 'balance', { tank }, day, { tanks }).limits.length;
    expect([on('2025-12-31'), on('2026-01-01'), on('2026-12-31'), on('2027-01-01')]).toEqual([0, 2, 2, 0]);
  });
});
