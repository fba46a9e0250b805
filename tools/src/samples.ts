import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { figureTableJsonSchema, procedureJsonSchema, provedRunFileJsonSchema, registerJsonSchema, runFileJsonSchema, RUN_FILE_FORMAT } from '@grellin/contract';
import { catalogue, drawings, drawingSvg, merged, type Procedure, type Verdict, factsOf, itemsOf } from '@grellin/core';
import { practiceRun, type PracticeOptions, type PracticeRun, rigFor, truthOf } from '@grellin/core/practice';

/**
 * Writes docs/samples and the published JSON Schemas: for every procedure of the catalogue a run that passes, one that fails, one that is void, and one that
 * cannot tell where its first rule set can yield that. They are carried out on the rigs, never typed in; what each must come to is the rig's hidden truth.
 */
interface Sample {
  readonly verdict: Verdict;
  readonly fault: string;
  readonly options: PracticeOptions;
}

/** A gauge so coarse that it could not show a pass even of a flawless item. */
const coarse: NonNullable<PracticeOptions['instrument']> = (i) => ({ ...i, accuracy: { value: i.high.value / 8, unit: i.accuracy.unit }, correlation: 0 });

/** Something that had to be so before the test, or after it, and was not: the test does not count. */
function refusedItem(p: Procedure): string {
  const about =
    p.stages.find((s) => (s.phase === 'gather' || s.phase === 'precondition') && itemsOf(s.method).length > 0) ?? p.stages.find((s) => s.phase === 'aftercare');
  const item = about && itemsOf(about.method)[0];
  if (!item) throw new Error(`${p.id} has nothing that could be refused`);
  return item.id;
}

/** Whether a measured stage is read with a test instrument whose coarseness could keep it from telling. */
function canBeCoarse(p: Procedure, run: PracticeRun): boolean {
  const channels = Object.entries(run.opened.instruments).filter(([, i]) => !i.fitted);
  return channels.length > 0 && run.plan.stages.some((s) => factsOf(s.method).measured);
}

export function samplesOf(p: Procedure): readonly Sample[] {
  const ruleSet = p.ruleSets[0]?.id ?? '';
  const truth = Object.entries(truthOf(p.id, ruleSet));
  const first = (verdict: Verdict): string | undefined => truth.find(([, v]) => v === verdict)?.[0];
  const samples: Sample[] = [{ verdict: 'pass', fault: 'none', options: {} }];
  const fails = first('fail');
  if (fails !== undefined) samples.push({ verdict: 'fail', fault: fails, options: {} });
  const voids = first('void');
  samples.push({
    verdict: 'void',
    fault: voids ?? 'none',
    options: voids === undefined ? { answers: { [refusedItem(p)]: { answer: 'no', reason: 'not so' } } } : {},
  });
  const unsure = first('undecided');
  if (unsure !== undefined) samples.push({ verdict: 'undecided', fault: unsure, options: {} });
  else if (canBeCoarse(p, practiceRun(p.id, ruleSet, rigFor(p.id) ?? '', 'none')))
    samples.push({ verdict: 'undecided', fault: 'none', options: { instrument: coarse } });
  return samples;
}

/** The page of all drawings, with where each is shown. */
export function handWork(): string {
  const shownIn = (id: string): string =>
    catalogue
      .flatMap((p) => p.stages.flatMap((s) => [...s.steps, ...itemsOf(s.method)].filter((x) => x.drawing === id).map((x) => `${p.title}: ${x.text}`)))
      .map((line) => `- ${line}`)
      .join('\n');
  const parts = drawings.map((d) => `## ${d.title}\n\n![${d.words}](drawings/${d.id}.svg)\n\n${d.words}\n\n${shownIn(d.id)}\n`);
  return `# Hand-work, drawn\n\nWritten by \`npm run samples\` from the same drawings that the bench shows. What moves is in the accent colour, with an arrow. Common practice; the maker’s instructions come first.\n\n${parts.join('\n')}`;
}

export function runFileOf({ plan, opened, events }: PracticeRun): unknown {
  // The file's head stands for the opening event, which the person's source had counted as its first.
  const rest = merged(events.slice(1));
  const { startedAt, ruleSet, clock, assets, instruments, lists, tables } = opened;
  return {
    format: RUN_FILE_FORMAT,
    procedure: { id: plan.procedure.id, edition: plan.procedure.edition },
    ruleSet,
    startedAt,
    clock,
    assets,
    instruments,
    ...(lists ? { lists } : {}),
    ...(tables ? { tables } : {}),
    events: rest.map((e, i) => ({ ...e, id: `e${i + 1}` })),
  };
}

function writeAll(): void {
  mkdirSync('docs/drawings', { recursive: true });
  mkdirSync('docs/samples', { recursive: true });
  for (const old of readdirSync('docs/samples')) if (old.endsWith('.json')) rmSync(`docs/samples/${old}`);
  for (const p of catalogue)
    for (const { verdict, fault, options } of samplesOf(p)) {
      const run = practiceRun(p.id, p.ruleSets[0]?.id ?? '', rigFor(p.id) ?? '', fault, options);
      writeFileSync(`docs/samples/${p.id.replace('.', '-')}-${verdict}.json`, `${JSON.stringify(runFileOf(run))}\n`);
    }
  writeFileSync('docs/run-file.schema.json', `${JSON.stringify(runFileJsonSchema(), null, 2)}\n`);
  writeFileSync('docs/run-file-2.schema.json', `${JSON.stringify(provedRunFileJsonSchema(), null, 2)}\n`);
  writeFileSync('docs/register.schema.json', `${JSON.stringify(registerJsonSchema(), null, 2)}\n`);
  for (const d of drawings) writeFileSync(`docs/drawings/${d.id}.svg`, drawingSvg(d));
  writeFileSync('docs/hand-work.md', handWork());
  writeFileSync('docs/figure-table.schema.json', `${JSON.stringify(figureTableJsonSchema(), null, 2)}\n`);
  writeFileSync('docs/procedure.schema.json', `${JSON.stringify(procedureJsonSchema(), null, 2)}\n`);
}

if (process.argv[1]?.endsWith('samples.ts')) writeAll();
