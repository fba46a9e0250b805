import { describe, expect, it } from 'vitest';
import {
  catalogue,
  channelsRead,
  checkProcedure,
  everyCase,
  limitedChannels,
  holds,
  makePlan,
  procedureById,
  suitedRuleSet,
  type Method,
  type Procedure,
  type Stage,
} from '../../src/procedure';

const suit = procedureById('suit.inflation') as Procedure;
const brakes = procedureById('brakes.applied-loss') as Procedure;

describe('the catalogue', () => {
  it.each(catalogue.map((p) => [p.id, p] as const))('%s is sound', (_id, p) => expect(checkProcedure(p)).toEqual([]));

  it.each(catalogue.flatMap((p) => p.ruleSets.flatMap((r) => r.limits.map((l) => [`${p.id} ${l.id}`, l] as const))))(
    '%s says where it comes from',
    (_id, limit) => {
      expect(limit.source.title === 'common practice' || limit.source.title.endsWith('(from memory)')).toBe(true);
    },
  );

  it('says of every procedure what to bring', () => {
    for (const p of catalogue) expect(p.bring?.length ?? 0, p.id).toBeGreaterThan(0);
  });

  it('carries every school of the two procedures', () => {
    expect(suit.ruleSets.map((r) => r.title)).toEqual(['4 inH2O', '100 mmH2O', '16.5 mbar', '2 inH2O']);
    expect(brakes.ruleSets.map((r) => r.id)).toEqual(['single', 'combination', 'bus-a', 'bus-b', 'fire-apparatus', 'build-from-low']);
  });
});

describe('the checker', () => {
  const spoil = (change: (p: Procedure) => unknown): string[] => {
    const copy = structuredClone(suit);
    change(copy);
    return checkProcedure(copy).map((f) => f.code);
  };
  type Open = { -readonly [K in keyof Procedure]: unknown };
  const first = <T>(list: readonly T[]): T => list[0] as T;

  it.each<[string, (p: Procedure) => unknown, string]>([
    ['a limit without a source', (p) => Object.assign(first(first(p.ruleSets).limits), { source: { title: ' ' } }), 'sourceMissing'],
    [
      'a clause of common practice',
      (p) => Object.assign(first(first(p.ruleSets).limits), { source: { title: 'common practice', clause: '4' } }),
      'sourceMissing',
    ],
    ['a limit on a stage that is skipped', (p) => Object.assign(first(p.ruleSets), { skip: ['inflate', 'let-down'] }), 'stageUnreached'],
    ['a limit on no stage', (p) => Object.assign(first(first(p.ruleSets).limits), { stage: 'nowhere' }), 'stageUnknown'],
    ['a measure that a check cannot show', (p) => Object.assign(first(first(p.ruleSets).limits), { stage: 'look' }), 'measureUnfit'],
    ['a limit in litres', (p) => Object.assign(first(first(p.ruleSets).limits), { value: { value: 1, unit: 'L' } }), 'figureDimension'],
    ['an unknown unit', (p) => Object.assign(first(first(p.ruleSets).limits), { value: { value: 1, unit: 'furlong' } }), 'unitUnknown'],
    ['a figure that is not there', (p) => delete (first(p.ruleSets).parameters as Record<string, unknown>)['hold'], 'figureUnknown'],
    [
      'a figure of the wrong kind',
      (p) => Object.assign(first(p.ruleSets).parameters, { hold: { value: { value: 4, unit: 'Pa' }, source: { title: 'common practice' } } }),
      'figureDimension',
    ],
    ['a gauge asked for by a figure that is not there', (p) => Object.assign(p.channels['suit'] ?? {}, { asks: { upTo: 'nowhere' } }), 'figureUnknown'],
    ['a gauge asked for in minutes', (p) => Object.assign(p.channels['suit'] ?? {}, { asks: { upTo: 'hold' } }), 'figureDimension'],
    ['an attribute the class lacks', (p) => Object.assign(first(p.ruleSets), { suits: { attribute: 'suit.colour', is: ['red'] } }), 'attributeUnknown'],
    ['an unknown class', (p) => ((p as Open).roles = { suit: { classes: ['kite'] } }), 'classUnknown'],
    ['a stage with no limit', (p) => Object.assign(first(p.ruleSets), { limits: [] }), 'stageWithoutLimit'],
    ['no aftercare', (p) => ((p as Open).stages = p.stages.filter((s) => s.phase !== 'aftercare')), 'aftercareMissing'],
    ['no fault table', (p) => ((p as Open).faults = []), 'faultsMissing'],
    ['a caution before nothing', (p) => ((p as Open).cautions = [{ before: 'nowhere', text: 'x' }]), 'cautionUnknown'],
    ['a channel nobody has', (p) => ((p as Open).channels = {}), 'channelUnknown'],
    ['a name used twice', (p) => ((p as Open).stages = [...p.stages, first(p.stages)]), 'idRepeated'],
    ['no rule set', (p) => ((p as Open).ruleSets = []), 'ruleSetsNone'],
    ['a document that claims nothing', (p) => delete (p as Open).claims, 'claimMissing'],
    [
      'a suit that is called tight without a hold under some rule set',
      (p) => Object.assign(first(p.ruleSets), { skip: [...first(p.ruleSets).skip, 'inflate'], limits: [] }),
      'leakUnlooked',
    ],
    [
      'one whose hold hangs on what it is like',
      (p) => Object.assign(p.stages.find((s) => s.id === 'inflate') ?? {}, { when: { attribute: 'suit.openFaced', is: [false] } }),
      'leakUnlooked',
    ],
    ['a check that asks nothing', (p) => Object.assign(first(p.stages), { method: { kind: 'check', items: [] } }), 'checkEmpty'],
    [
      'a gauge that must agree with itself',
      (p) => Object.assign(first(p.stages), { method: { kind: 'check', items: [{ id: 'x', text: 'x', shown: { agree: ['suit', 'suit'], within: 'hold' } }] } }),
      'agreeNotTwo',
    ],
    [
      'a hand that feels for no time',
      (p) => Object.assign(first(p.stages), { method: { kind: 'check', items: [{ id: 'x', text: 'x', feels: true }] } }),
      'feltUntimed',
    ],
    [
      'a hand that feels under rules that do not say so',
      (p) => Object.assign(first(p.stages), { method: { kind: 'check', items: [{ id: 'x', text: 'x', feels: true, for: 'hold' }] } }),
      'feltUnsaid',
    ],
    [
      'something counted that takes no time',
      (p) => Object.assign(first(p.stages), { method: { kind: 'check', items: [{ id: 'x', text: 'x', times: 6 }] } }),
      'countUntimed',
    ],
    [
      'something counted once',
      (p) => Object.assign(first(p.stages), { method: { kind: 'check', items: [{ id: 'x', text: 'x', times: 1, for: 'hold' }] } }),
      'countNone',
    ],
    [
      'a step that has to stay so and that nothing shows',
      (p) => Object.assign(p.stages.find((s) => s.id === 'inflate') ?? {}, { steps: [{ id: 'x', text: 'x', kind: 'act', stays: true }] }),
      'staysUnshown',
    ],
    [
      'an event above one that never happens',
      (p) => Object.assign(first(p.stages), { method: { kind: 'eventPressure', channels: ['suit'], mark: 'x', text: 'x', above: 'nowhere' } }),
      'markUnknown',
    ],
    ['a look named like one of several', (p) => Object.assign(first(p.stages), { method: { kind: 'check', items: [{ id: 'x.2', text: 'x' }] } }), 'idReserved'],
    [
      'a look for what no class of the item can say it has',
      (p) => Object.assign(first(p.stages), { method: { kind: 'check', items: [{ id: 'x', text: 'x', when: { attribute: 'suit.propeller', is: [true] } }] } }),
      'attributeUnknown',
    ],
    ['rules by feel that read a gauge', (p) => Object.assign(first(p.ruleSets), { byFeel: { finds: 'x', misses: 'y' } }), 'feelReads'],
    ['rules by feel under which nothing is felt', (p) => Object.assign(first(p.ruleSets), { byFeel: { finds: 'x', misses: 'y' } }), 'feelNothing'],
    ['a role nobody plays', (p) => Object.assign(first(p.stages), { role: 'wearer' }), 'roleUnknown'],
  ])('finds %s', (_what, change, code) => expect(spoil(change)).toContain(code));
});

describe('every case of a document', () => {
  const cases = (...whens: readonly NonNullable<Stage['when']>[]) =>
    everyCase({ stages: whens.map((when, i) => ({ ...(suit.stages[0] as Stage), id: `s${String(i)}`, when })) });
  it('tries each way a condition can come out, and every way together', () => {
    expect(cases()).toEqual([{}]);
    expect(cases({ attribute: 'suit.openFaced', is: [true] }).map((c) => c['suit']?.['openFaced'])).toEqual([true, false]);
    expect(cases({ attribute: 'suit.buildStandard', is: ['A', 'B'] }).map((c) => c['suit']?.['buildStandard'])).toEqual(['A', 'B', 'something else']);
    const two = { value: 2, unit: '1' };
    const three = { attribute: 'suit.exhaustValves', from: two } as const;
    expect(cases(three).map((c) => holds(three, c))).toEqual([true, false, true]);
    expect(cases({ all: [three, { attribute: 'suit.openFaced', is: [false] }] })).toHaveLength(6);
  });
  it('a stage that is done for one case and another for the rest, between them look at every item', () => {
    const halves = structuredClone(suit);
    const hold = halves.stages.find((s) => s.id === 'inflate') as Stage;
    const also: Stage = { ...hold, id: 'inflate-open', steps: [], when: { attribute: 'suit.openFaced', is: [true] } };
    const split = {
      ...halves,
      stages: halves.stages.flatMap((s) => (s.id === 'inflate' ? [{ ...s, when: { attribute: 'suit.openFaced', is: [false] } as const }, also] : [s])),
    };
    expect(checkProcedure(split).map((f) => f.code)).not.toContain('leakUnlooked');
  });
});

describe('a plan', () => {
  const plan = (p: Procedure, ruleSet: string, assets: Parameters<typeof makePlan>[3]) => makePlan(p, 'd', ruleSet, assets);
  const codeOf = (result: ReturnType<typeof plan>): string => (result.ok ? 'ok' : result.refusal.code);

  it('leaves out stages by condition and steps by rule set', () => {
    const closed = plan(suit, 'in-h2o-4', { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } });
    const open = plan(suit, 'mbar-16.5', { suit: { openFaced: true, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } });
    expect(closed.ok && closed.plan.stages.map((s) => s.id)).toEqual(['gather', 'look', 'rig-proof', 'inflate', 'find', 'aftercare']);
    expect(open.ok && open.plan.stages.map((s) => s.id)).toContain('open-face');
    expect(closed.ok && closed.plan.stages[3]?.steps.map((s) => s.id)).not.toContain('let-down');
    expect(open.ok && open.plan.stages[4]?.steps.map((s) => s.id)).toContain('let-down');
  });

  // Provincial air-brake manuals: 3, 4 or 6 psi for one, two or three units; from memory.
  it.each([
    [1, 3],
    [2, 4],
    [3, 6],
  ])('takes the limit for %s units: %s psi', (units, psi) => {
    const made = plan(brakes, 'build-from-low', { vehicle: { units: { value: units, unit: '1' } } });
    expect(made.ok && made.plan.limits[0]?.resolved).toEqual({ value: psi, unit: '[psi]' });
  });

  it('is refused where a figure, a role or the rule set is missing', () => {
    expect(codeOf(plan(brakes, 'build-from-low', { vehicle: {} }))).toBe('plan.attributeUnknown');
    expect(codeOf(plan(brakes, 'build-from-low', { vehicle: { units: { value: 7, unit: '1' } } }))).toBe('plan.figureMissing');
    expect(codeOf(plan(brakes, 'single', {}))).toBe('plan.roleEmpty');
    expect(codeOf(plan(brakes, 'single', { vehicle: {}, horse: {} }))).toBe('plan.roleUnknown');
    expect(codeOf(plan(brakes, 'elsewhere', { vehicle: {} }))).toBe('plan.ruleSetUnknown');
    expect(codeOf(plan(brakes, 'single', { vehicle: {} }))).toBe('ok');
  });

  it('chooses the rule set that suits, and none where none does', () => {
    expect(suitedRuleSet(suit, { suit: { buildStandard: 'EN 943-1' } })?.id).toBe('mbar-16.5');
    expect(suitedRuleSet(suit, { suit: { buildStandard: 'unknown' } })).toBeUndefined();
  });

  it('conditions: equal, at least, below, all', () => {
    const assets = { vehicle: { units: { value: 2, unit: '1' }, useAs: 'bus A' } };
    const two = { value: 2, unit: '1' };
    expect(holds({ attribute: 'vehicle.units', from: two }, assets)).toBe(true);
    expect(holds({ attribute: 'vehicle.units', below: two }, assets)).toBe(false);
    expect(
      holds(
        {
          all: [
            { attribute: 'vehicle.useAs', is: ['bus A'] },
            { attribute: 'vehicle.units', from: two },
          ],
        },
        assets,
      ),
    ).toBe(true);
    expect(holds({ attribute: 'vehicle.useAs', from: two }, assets)).toBe(false);
    expect(holds({ attribute: 'vehicle.units', from: { value: 1, unit: 'L' } }, assets)).toBe(false);
  });
});

describe('what a method reads', () => {
  const window = { low: 'l', high: 'h' };
  it.each<[Method, readonly string[], readonly string[]]>([
    [{ kind: 'decay', channels: ['a', 'b'], hold: 't', start: window }, ['a', 'b'], ['a', 'b']],
    [{ kind: 'decay', channels: ['a'], hold: 't', start: window, gas: { temperature: 'k', barometer: 'p' } }, ['a', 'k', 'p'], ['a']],
    [{ kind: 'decay', channels: ['a'], hold: 't', start: window, gas: {} }, ['a'], ['a']],
    [{ kind: 'halfLife', channel: 'a', start: window }, ['a'], ['a']],
    [{ kind: 'makeUpFlow', pressure: 'a', flow: 'f', band: window, hold: 't' }, ['a', 'f'], ['f']],
    [{ kind: 'eventPressure', channels: ['a', 'b'], mark: 'm', text: 'x' }, ['a', 'b'], ['a', 'b']],
    [{ kind: 'elapsed', channel: 'a', from: 'x', to: 'y' }, ['a'], ['a']],
    [{ kind: 'elapsed', channel: 'a', from: 'x', to: 'y', speed: 'n' }, ['a', 'n'], ['a']],
    [{ kind: 'expansion', rig: 'jacket', pressure: 'a', water: 'w', test: window, hold: 't' }, ['a', 'w'], ['w']],
    [{ kind: 'expansion', rig: 'direct', pressure: 'a', water: 'w', temperature: 'k', test: window, hold: 't' }, ['a', 'w', 'k'], ['w']],
    [{ kind: 'relief', channel: 'a', repeats: 3, set: 's' }, ['a'], ['a']],
    [{ kind: 'stroke', axles: [{ id: '1', title: '1', left: 'l', right: 'r' }] }, ['l', 'r'], ['l', 'r']],
    [{ kind: 'survey', outline: 'o', route: [] }, [], []],
    [{ kind: 'check', items: [] }, [], []],
  ])('%j', (method, read, limited) => {
    expect(channelsRead(method)).toEqual(read);
    expect(limitedChannels(method)).toEqual(limited);
  });
});

describe('plugs that are counted', () => {
  it.each([
    [0, 0],
    [2, 0],
    [3, 1],
    [5, 3],
  ])('a suit of %s exhaust valves has %s plugs, as many out as went in, each an answer of its own', (valves, plugs) => {
    const made = makePlan(suit, 'd', 'in-h2o-4', {
      suit: { openFaced: false, exhaustValves: { value: valves, unit: '1' }, adapters: { value: 2, unit: '1' } },
    });
    if (!made.ok) throw new Error(JSON.stringify(made.refusal));
    const ids = made.plan.stages.flatMap((s) => (s.method.kind === 'check' ? s.method.items.map((i) => i.id) : [])).filter((id) => /^plug-(in|out)/.test(id));
    const numbered = (way: string) => Array.from({ length: plugs }, (_, k) => `plug-${way}.${String(k + 1)}`);
    expect(ids).toEqual([...numbered('in'), ...numbered('out')]);
  });
  it('how many valves a suit has is asked before it is filled', () => {
    const made = makePlan(suit, 'd', 'in-h2o-4', { suit: { openFaced: false } });
    expect(made.ok ? null : made.refusal).toEqual({ code: 'plan.attributeUnknown', values: { attributes: 'suit.exhaustValves suit.adapters' } });
  });
});
