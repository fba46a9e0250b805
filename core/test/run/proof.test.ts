import { describe, expect, it } from 'vitest';
import { perform, practiceOf, practiceRun, setupFor } from '../../src/practice';
import { catalogue, makePlan, procedureById, type Plan, type Procedure, type RunProof } from '../../src/procedure';
import { carriesProof, inRounds, judge, planOfRun, provedBy, rigIn, standsNow, emptyRun } from '../../src/run';

/** What is proved of a rig once, and carried to the items that follow it: never more than was proved, and never anything of an item. */
const q = (value: number, unit: string) => ({ value, unit });
const jacket = procedureById('cyl.water-jacket') as Procedure;
const proofOf = (plan: Plan, state: Parameters<typeof provedBy>[1]): RunProof => ({
  run: '01900000-0000-7000-8000-000000000001',
  record: 'GR-2026-00001',
  head: '0'.repeat(64),
  at: '2026-12-01T08:20:00Z',
  item: 'CY-01',
  stages: provedBy(plan, state) ?? [],
});
const planned = (more: Record<string, unknown> = {}, proof?: RunProof, ruleSet = 'us-metal') => {
  const attributes = Object.values(setupFor('cyl.water-jacket', ruleSet).assets)[0]?.attributes ?? {};
  const made = makePlan(jacket, 'd', ruleSet, { cylinder: { ...attributes, ...more } as never }, undefined, proof ? { proof } : {});
  if (!made.ok) throw new Error(JSON.stringify(made.refusal));
  return made.plan;
};

describe('a rig that was proved', () => {
  const first = practiceRun('cyl.water-jacket', 'us-metal', 'jacket', 'none');
  it('is told with what each of its stages found', () => {
    expect(provedBy(first.plan, first.state)?.map((s) => [s.stage, s.told.length > 0])).toEqual([
      ['rig-proof', true],
      ['calibrate', true],
    ]);
  });
  it('is proved by a run whose item failed, and by none whose rig or calibrated cylinder did', () => {
    const failed = practiceRun('cyl.water-jacket', 'us-metal', 'jacket', 'wall has yielded');
    expect([judge(failed.plan, failed.state).verdict, provedBy(failed.plan, failed.state)?.length]).toEqual(['fail', 2]);
    for (const fault of ['rig fitting', 'scale off']) {
      const bad = practiceRun('cyl.water-jacket', 'us-metal', 'jacket', fault);
      expect(provedBy(bad.plan, bad.state), fault).toBeNull();
      expect(rigIn(jacket, judge(bad.plan, bad.state)), fault).toBe('failed');
    }
    expect(rigIn(jacket, judge(first.plan, first.state))).toBe('proved');
    // One that was mended and then held was at fault all the same: what came before it is doubtful.
    const { findings } = judge(first.plan, first.state);
    const bad = practiceRun('cyl.water-jacket', 'us-metal', 'jacket', 'rig fitting');
    expect(rigIn(jacket, { findings, earlier: judge(bad.plan, bad.state).findings })).toBe('failed');
    expect(rigIn(jacket, { findings: findings.filter((f) => f.stage === 'expand'), earlier: [] })).toBeNull();
  });
  it('proves nothing before the seal', () => {
    expect(provedBy(first.plan, { ...first.state, sealed: false })).toBeNull();
  });
  it('is not proved again by the next item: the rest of its order is carried out, and judged, as ever', () => {
    const proof = proofOf(first.plan, first.state);
    for (const [fault, verdict] of [
      ['none', 'pass'],
      ['wall has yielded', 'fail'],
      ['thin wall', 'fail'],
    ] as const) {
      const practice = practiceOf('cyl.water-jacket', 'us-metal', 'jacket', fault);
      const made = planOfRun(jacket, { ...practice.opened, proof });
      if (!made.ok) throw new Error(made.refusal.code);
      expect(made.plan.stages.map((s) => s.id)).toEqual(['before', 'expand', 'aftercare']);
      expect(made.plan.limits.map((l) => l.stage)).not.toContain('calibrate');
      const { events, state } = perform({ ...practice, plan: made.plan, opened: { ...practice.opened, proof } });
      expect(events.some((e) => e.kind === 'began' && e.stage === 'rig-proof')).toBe(false);
      expect(judge(made.plan, state).verdict, fault).toBe(verdict);
    }
  });
});

describe('what a proof does not carry', () => {
  const first = practiceRun('cyl.water-jacket', 'us-metal', 'jacket', 'none');
  const whole = planned();
  it('another test pressure, another certificate of the calibrated cylinder, another rule set or document', () => {
    const before = { ...whole };
    expect(carriesProof(before, planned())).toBe(true);
    // Told in another unit it is the same figure; the names of a figure may stand in another order.
    expect(carriesProof(before, planned({ testPressure: { unit: 'kPa', value: 30_000 } }))).toBe(true);
    expect(carriesProof(before, planned({ testPressure: q(450, 'bar') }))).toBe(false);
    expect(carriesProof(before, planned({ certificateExpansion: q(60, 'mL') }))).toBe(false);
    expect(carriesProof(before, planned({ mostExpansion: q(65, 'mL') }, undefined, 'maker'))).toBe(false);
    expect(carriesProof({ ...before, digest: 'e' }, planned())).toBe(false);
    // A run that stood on a proof itself proved nothing.
    expect(carriesProof(planned({}, proofOf(first.plan, first.state)), planned())).toBe(false);
  });
  it('a stage of the item, whatever an opening says', () => {
    const forged = {
      ...proofOf(first.plan, first.state),
      stages: [
        { stage: 'expand', title: 'Expand', told: 'all well' },
        { stage: 'before', title: 'Before', told: 'looked at' },
      ],
    };
    expect(planned({}, forged).stages.map((s) => s.id)).toEqual(whole.stages.map((s) => s.id));
  });
});

describe('items can follow one another', () => {
  it.each([
    ['cyl.water-jacket', 'us-metal', true],
    ['ba.user-check', 'quarter', true],
    ['suit.inflation', 'in-h2o-4', true],
    // Coupled with a trailer; told tank by tank, or vaporiser by vaporiser.
    ['brakes.whole', 'single', false],
    ['tank.vapour-10', 'in-use', false],
    ['anaes.machine', 'general', false],
  ])('%s, %s: %s', (id, ruleSet, may) => {
    const p = procedureById(id) as Procedure;
    expect(inRounds(p, p.ruleSets.find((r) => r.id === ruleSet) as Procedure['ruleSets'][number])).toBe(may);
  });
});

describe('the catalogue', () => {
  it('no procedure is brought where it must never stand by leaving its proof out', () => {
    for (const p of catalogue)
      for (const r of p.ruleSets) {
        const proving = p.stages.filter((s) => s.proves && !r.skip.includes(s.id));
        if (proving.length === 0) continue;
        expect(inRounds(p, r), p.id).toBe(true);
        const setup = setupFor(p.id, r.id);
        const assets = Object.fromEntries(Object.entries(setup.assets).map(([role, a]) => [role, a.attributes]));
        const proof = { ...proofOf(planned(), emptyRun), stages: proving.map((s) => ({ stage: s.id, title: s.title, told: 'held' })) };
        const made = makePlan(p, 'd', r.id, assets, undefined, { ...setup, proof });
        if (!made.ok) throw new Error(`${p.id} ${r.id} ${JSON.stringify(made.refusal)}`);
        expect(made.plan.stages.some((s) => s.proves)).toBe(false);
        // What the next stage needs of the set-up is asked for by it, and not left as the proof would have left it.
        const practice = practiceOf(p.id, r.id, setup.device === 'WJ' ? 'jacket' : 'suit', 'none');
        expect(standsNow(made.plan, emptyRun)).toEqual(standsNow(practice.plan, emptyRun));
      }
  });
});
