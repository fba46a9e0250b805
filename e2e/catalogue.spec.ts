import { catalogue, verdictSentence, type MethodKind } from '@grellin/core';
import { truthOf } from '@grellin/core/practice';
import { expect } from '@playwright/test';
import { carryThrough, openPractice } from './testing/practice';
import { everything, inCi, turn } from './testing/rotation';
import { test } from './testing/signedIn';

/**
 * Every procedure of the catalogue, driven through the real screens on its simulated rig: tight, and with a seeded fault. What it must come to is the rig's
 * hidden truth. With E2E=all they are all driven; in CI one procedure for each method, both ways, and a part of the rest that another commit changes;
 * otherwise one procedure for each method, one way.
 */
interface Case {
  readonly procedure: string;
  readonly ruleSet: string;
  readonly fault: string;
  readonly verdict: string;
}

const all = catalogue.map((p) => {
  const ruleSet = p.ruleSets[0]?.id ?? '';
  const truth = Object.entries(truthOf(p.id, ruleSet));
  const faulty = truth.find(([, verdict]) => verdict === 'fail');
  const cases: Case[] = [...truth.filter(([fault]) => fault === 'none'), ...(faulty ? [faulty] : [])].map(([fault, verdict]) => ({
    procedure: p.id,
    ruleSet,
    fault,
    verdict,
  }));
  return { id: p.id, methods: new Set(p.stages.map((s) => s.method.kind)), cases };
});

/** Few procedures that between them have every method. */
function oneForEachMethod(): ReadonlySet<string> {
  const chosen = new Set<string>([
    'store.half-life',
    'anaes.circle',
    'cyl.water-jacket',
    'valve.relief',
    'drysuit.survey',
    'brakes.whole',
    'ba.facepiece',
    'cyl.visual',
  ]);
  const covered = new Set<MethodKind>(all.filter((p) => chosen.has(p.id)).flatMap((p) => [...p.methods]));
  for (const p of all) for (const m of p.methods) if (!covered.has(m)) throw new Error(`no chosen procedure has the method ${m}`);
  return chosen;
}

/** Parts that the rest is cut into. */
const PARTS = 4;

function wanted(): readonly Case[] {
  if (everything) return all.flatMap((p) => p.cases);
  const chosen = oneForEachMethod();
  const now = turn();
  const forMethods = all.filter((p) => chosen.has(p.id));
  if (!inCi) return forMethods.flatMap((p, i) => p.cases.filter((_, k) => k === (i + now) % p.cases.length));
  const rest = all.filter((p) => !chosen.has(p.id)).flatMap((p) => p.cases);
  return [...forMethods.flatMap((p) => p.cases), ...rest.filter((_, i) => i % PARTS === now % PARTS)];
}

for (const c of wanted())
  test(`${c.procedure}, ${c.ruleSet}, ${c.fault}: ${c.verdict}`, async ({ page, api }) => {
    const practice = await openPractice(api, c.procedure, c.ruleSet);
    await carryThrough(page, practice, c.fault);
    const verdict = c.verdict === 'pass' ? 'pass' : 'fail';
    const sentence = verdictSentence(practice.tag, verdict, practice.procedure.verdictWords[verdict]);
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(sentence);
    await expect(page.getByText('Simulated').first()).toBeVisible();
  });
