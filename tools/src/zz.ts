import { judge, findingInWords } from '@grellin/core';
import { chanceOf, lie, practiceOf, rigFor, truthOf, isUnfindable } from '@grellin/core/practice';
import { catalogue } from '@grellin/core';
const faulty = catalogue.flatMap((p) => p.ruleSets.flatMap((r) => Object.entries(truthOf(p.id, r.id)).filter(([fault, verdict]) => verdict !== 'pass' && !isUnfindable(p.id, fault)).map(([fault]) => ({ procedure: p.id, ruleSet: r.id, fault }))));
const [seed0, seed] = process.argv.slice(2).map(Number); const walk = seed - seed0;
const chance = chanceOf(seed); const one = faulty[Math.floor(chance() * faulty.length)]; console.log(one);
const { events, result, plan, state } = lie(practiceOf(one.procedure, one.ruleSet, rigFor(one.procedure) ?? '', one.fault, { seed: 5 + walk }), chance, { mischievous: 0.12, lazy: 0, typed: walk % 2 === 1 });
for (const e of events) { if (e.kind==='samples') continue; const { id, n, source, ...r } = e as any; console.log(Math.round(e.at/1000), JSON.stringify(r).slice(0,200)); }
for (const f of [...result.findings]) console.log(f.stage, f.verdict, findingInWords(f), f.reasons.map(r=>r.code).join());
