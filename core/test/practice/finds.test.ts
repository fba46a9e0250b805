import { describe, expect, it } from 'vitest';
import { catalogue } from '../../src';
import { findsOf, truthOf } from '../../src/practice';

const all = catalogue.flatMap((p) => p.ruleSets.map((r) => ({ procedure: p.id, ruleSet: r.id })));

describe('what a rule set can find, as it is said before it starts', () => {
  it.each(all)('$procedure, $ruleSet: every seeded fault is found, said or missed, and in one of the three alone', ({ procedure, ruleSet }) => {
    const f = findsOf(procedure, ruleSet);
    const truth = truthOf(procedure, ruleSet);
    const faults = Object.keys(truth).filter((k) => k !== 'none' && (truth[k] !== 'pass' || truth['none'] === 'pass'));
    expect([...(f?.found ?? []), ...(f?.said ?? []), ...(f?.missed ?? [])].sort()).toEqual([...faults].sort());
  });
  // A fault that a rule set misses is a hole that people know of. The list may shrink; a line more wants a reason.
  it('misses these, and no others', () => {
    const missed = Object.fromEntries(
      all.flatMap(({ procedure, ruleSet }) => {
        const list = findsOf(procedure, ruleSet)?.missed ?? [];
        return list.length > 0 ? [[`${procedure}, ${ruleSet}`, list.join(', ')]] : [];
      }),
    );
    expect(missed).toMatchInlineSnapshot(`
      {
        "anaes.coaxial-d, by-feel": "hose crack",
        "anaes.mapleson-a, by-feel": "hose crack",
        "anaes.t-piece, by-feel": "hose crack, valve opens early",
        "brakes.applied-loss, build-from-low": "second circuit chamber",
        "brakes.applied-loss, bus-a": "second circuit chamber",
        "brakes.applied-loss, bus-b": "second circuit chamber",
        "brakes.applied-loss, combination": "second circuit chamber",
        "brakes.applied-loss, single": "second circuit chamber",
        "brakes.whole, build-from-low": "second circuit chamber",
        "brakes.whole, bus-a": "second circuit chamber, weak compressor, adjuster behind, protection valve sticks, one valve stays in, heads crossed",
        "brakes.whole, bus-b": "second circuit chamber, adjuster behind, protection valve sticks, one valve stays in, heads crossed",
        "brakes.whole, combination": "second circuit chamber, weak compressor, adjuster behind, protection valve sticks",
        "brakes.whole, fire-apparatus": "adjuster behind, protection valve sticks, one valve stays in, heads crossed",
        "brakes.whole, single": "second circuit chamber, adjuster behind, protection valve sticks, one valve stays in, heads crossed",
        "brakes.whole, single-applied": "second circuit chamber, adjuster behind, protection valve sticks, one valve stays in, heads crossed",
        "tank.cargo, any-time": "inside vapour valve",
        "valve.relief, bubbles": "manifold leaks",
      }
    `);
  });
  it('nothing of a procedure without a bench, or of a rule set that it has not', () => {
    expect(findsOf('own', 'any')).toBeNull();
    expect(findsOf('suit.inflation', 'any')).toBeNull();
  });
});
