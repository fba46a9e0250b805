import { describe, expect, it } from 'vitest';
import { allowanceWedge, endedBy, judge, recordOf } from '../../src/run';
import { procedureById, type Limit, type Procedure } from '../../src/procedure';
import { practiceRun, rigFor } from '../../src/practice';
import { codes, found, only, planOf } from '../testing/attempt';
import { brakeScript, suitScript, type Scripted } from '../testing/script';

const inH2O = "[in_i'H2O]";
const suit = (hold: number, end = 3.6): Scripted => suitScript({ ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end, settle: 60, hold });
const inflate = (s: Scripted) => s.result.findings.find((f) => f.stage === 'inflate');
const codesOf = (s: Scripted): readonly string[] => inflate(s)?.reasons.map((r) => r.code) ?? [];

describe('a hold that is read late', () => {
  // Common practice: a tenth of the hold, and no less than two seconds.
  it.each([
    [264, false],
    [264.001, true],
  ])('four minutes read after %f s: late %s', (after, late) => expect(codesOf(suit(after)).includes('readLate')).toBe(late));

  it('of fifteen seconds may be two late', () => {
    const at = (end: number) =>
      only(
        found(planOf(shortHold, 'quick', { suit: {} }), 'hold', { readings: { p: [[9.9, 100], [end, 99.9]] }, marks: { start: 10 }, ended: 60 }), // prettier-ignore
      );
    expect(codes(at(27))).not.toContain('readLate');
    expect(codes(at(27.1))).toContain('readLate');
  });

  it('can only have lost more: a pass stands, and a fail is tried at the rate that was seen', () => {
    expect(inflate(suit(300, 3.3))?.verdict).toBe('pass');
    // 1.0 of 0.8 in five minutes: exactly 0.8 in four.
    expect(inflate(suit(300, 3))?.verdict).toBe('undecided');
    expect(inflate(suit(300, 2.99))?.verdict).toBe('fail');
  });

  it('is held to a strict limit by its strictness: what would have been exactly the limit is within “at most” and not within “less than”', () => {
    const late = (stage: 'static' | 'applied', lost: number) => {
      const s = brakeScript(
        stage === 'static'
          ? { ruleSet: 'single', static: [120, 120 - lost, 120, 120], staticHold: 120, applied: [120, 112, 110, 120, 112, 110] }
          : { ruleSet: 'single', static: [120, 119, 120, 119], applied: [120, 112, 112 - lost, 120, 112, 110], hold: 120 },
      );
      return s.result.findings.find((f) => f.stage === stage && f.channel === 'primary')?.verdict;
    };
    // Less than 2 psi in a minute, and at most 3, each read after two minutes (CDL manual §5, from memory).
    expect([late('static', 3.9), late('static', 4), late('static', 4.1)]).toEqual(['undecided', 'fail', 'fail']);
    expect([late('applied', 5.9), late('applied', 6), late('applied', 6.1)]).toEqual(['undecided', 'undecided', 'fail']);
  });
});

describe('times that are typed', () => {
  it('are as uncertain as half the way there and back, spread evenly: √3 for one, √2 for the two of a hold', () => {
    const typed = suit(240, 3.4);
    const shaken: Scripted = suitScript({ ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end: 3.4, settle: 60, hold: 240, during: [[1, { kind: 'synced', offsetMs: 0, halfTripMs: 30_000 }]] }); // prettier-ignore
    const attempt = shaken.state.attempts['inflate']?.at(-1);
    if (!attempt) throw new Error('no attempt');
    expect(recordOf(shaken.state, attempt).typedTimingMs).toBeCloseTo(30_000 / Math.sqrt(3), 6);
    const u = (s: Scripted): number => s.result.findings.find((f) => f.stage === 'inflate' && f.confidence)?.confidence?.u.value ?? Number.NaN;
    // The limit on what is left does not hang on the time; the rig's, on what is lost, does.
    expect(u(shaken)).toBe(u(typed));
    const plan = planOf(shortHold, 'quick', { suit: {} });
    const lossU = (typedTimingMs: number): number =>
      only(found(plan, 'hold', { typed: true, typedTimingMs, readings: { p: [[10, 100], [25, 90]] }, marks: { start: 10 }, ended: 60 })).confidence?.u.value ?? Number.NaN; // prettier-ignore
    // 10 lost in 15 s, each end uncertain by 300 ms: 10 · √2 · 0.3 / 15.
    expect(Math.sqrt(lossU(300) ** 2 - lossU(0) ** 2)).toBeCloseTo((10 * Math.SQRT2 * 0.3) / 15, 9);
  });
});

describe('the wedge of the allowance', () => {
  it('knows nothing of the first drop: it begins after it', () => {
    const s = brakeScript({ ruleSet: 'bus-b', applied: [125, 110, 109, 125, 110, 109] });
    const limits = s.plan.limits.filter((l) => l.stage === 'applied');
    expect(limits.map((l) => l.of).sort()).toContain('firstDrop');
    const loss = limits.find((l) => l.of === 'loss');
    expect(allowanceWedge(s.plan, 'applied', 'primary', 110, '[psi]')?.permitted).toBe(loss?.resolved.value);
  });
  it('is the tightest of its limits, the first drop’s, however small, left out', () => {
    const tight: Procedure = { ...shortHold, ruleSets: shortHold.ruleSets.map((r) => ({ ...r, limits: [...r.limits, limit('drop', 'firstDrop', 1)] })) };
    expect(allowanceWedge(planOf(tight, 'quick', { suit: {} }), 'hold', 'p', 100, 'Pa')?.permitted).toBe(20);
  });
});

describe('a stage that ends the run', () => {
  it('ends it when it is void as when it has failed: what follows is no longer asked for', () => {
    const before = procedureById('tank.vapour-10')?.stages.find((x) => x.id === 'before')?.method;
    const item = before?.kind === 'check' ? (before.items[0]?.id ?? '') : '';
    const { plan, state } = practiceRun('tank.vapour-10', 'in-use', rigFor('tank.vapour-10') ?? '', 'none', {
      answers: { [item]: { answer: 'no', reason: 'not so' } },
    });
    const { verdict, findings } = judge(plan, state);
    expect(verdict).toBe('void');
    expect(findings.find((f) => f.stage === 'before')?.verdict).toBe('void');
    // The tank was never tried, and nobody waits for it: only what puts everything back is asked for.
    const asked = new Set(findings.map((f) => f.stage));
    expect(plan.stages.filter((x) => x.phase === 'test').some((x) => asked.has(x.id))).toBe(false);
    expect(endedBy(plan, state)).toBe('before');
  });
});

const source = { title: 'invented for this test' };
function limit(id: string, of: Limit['of'], value: number): Limit {
  return { id, stage: 'hold', of, op: '<=', value: { value, unit: 'Pa' }, source };
}

/** A hold of fifteen seconds on one gauge, judged by what it loses. */
const shortHold: Procedure = {
  ...(procedureById('suit.inflation') as Procedure),
  id: 'test.short',
  channels: { p: { role: 'suit', unit: 'Pa', title: 'Pressure' } },
  stages: [
    { id: 'hold', role: 'suit', title: 'Hold', attempts: 1, onFail: 'continue', phase: 'test', steps: [], method: { kind: 'decay', channels: ['p'], hold: 'hold', start: { low: 'low', high: 'high' } } }, // prettier-ignore
  ],
  ruleSets: [
    {
      id: 'quick',
      title: 'Quick',
      edition: '1',
      note: 'invented',
      order: 'free',
      skip: [],
      decision: { kind: 'simple' },
      parameters: {
        hold: { value: { value: 15, unit: 's' }, source },
        low: { value: { value: 90, unit: 'Pa' }, source },
        high: { value: { value: 110, unit: 'Pa' }, source },
      },
      limits: [limit('loss', 'loss', 20)],
    },
  ],
};
