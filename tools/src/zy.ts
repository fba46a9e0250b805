import { judge } from '@grellin/core';
import { catalogue } from '@grellin/core';
import { practiceRun, rigFor, truthOf } from '@grellin/core/practice';
for (const id of process.argv.slice(2)) { const p = catalogue.find(p=>p.id===id)!;
for (const r of p.ruleSets) for (const [fault, want] of Object.entries(truthOf(id, r.id))) {
  try { const run = practiceRun(id, r.id, rigFor(id)!, fault); const j = judge(run.plan, run.state);
  if (j.verdict !== want) console.log(id, r.id, fault, 'want', want, 'got', j.verdict, JSON.stringify(j.findings.filter(f=>f.verdict!=='pass').map(f=>[f.stage,f.verdict,f.reasons.map(x=>x.code)])), run.state.abandoned); else console.log('ok', r.id, fault, want); } catch (e) { console.log(id, r.id, fault, 'threw', (e as Error).message); } } }
