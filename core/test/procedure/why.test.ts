import { describe, expect, it } from 'vitest';
import { catalogue } from '../../src/procedure';

/** Every step and look says in one line why it is done, for whoever does it for the first time. */
describe('why something is done', () => {
  it.each(catalogue.map((p) => [p.id, p] as const))('%s: stands beside every step and every look, in one line', (_, p) => {
    const all = p.stages.flatMap((s) => [...s.steps, ...(s.method.kind === 'check' ? s.method.items : [])]).concat(p.setUp ?? []);
    expect(all.filter((x) => x.why === undefined).map((x) => `${x.id}: ${x.text}`)).toEqual([]);
    for (const x of all) {
      expect(x.why?.length, x.id).toBeLessThan(130);
      expect(x.why, x.id).not.toBe(x.text);
      expect(x.why, x.id).toMatch(/\.$/);
    }
  });
});
