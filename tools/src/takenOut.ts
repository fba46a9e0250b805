import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const usage = `Takes each row of docs/coverage.md out of its document, in a copy of the project, and says which named tests do not notice.

  npm run taken-out                     every row
  npm run taken-out -- TEXT             rows that have TEXT in them
`;

const root = join(import.meta.dirname, '../..');
const AT_ONCE = 2;

interface Row {
  readonly what: string;
  readonly procedure: string;
  readonly stage: string;
  readonly name: string;
  readonly test: string;
}

function rowsOf(page: string): readonly Row[] {
  return page
    .split('\n')
    .filter((line) => line.startsWith('| ') && !line.startsWith('| trade') && !line.startsWith('| ---'))
    .map((line) => {
      const [, what = '', procedure = '', stage = '', name = '', test = ''] = line
        .split('|')
        .slice(1, -1)
        .map((cell) => cell.trim());
      return { what, procedure, stage, name, test };
    });
}

/** What is appended to the catalogue of the copy: a document without what is named, wherever in it that stands. */
const HOOK = `
/** Written by tools/src/takenOut.ts into a copy: what is named is gone. */
function takenOut(part: unknown, stage: string, name: string, here: boolean): unknown {
  if (Array.isArray(part))
    return part
      .filter((x: unknown) => {
        const o = x as { id?: unknown; text?: unknown; stage?: unknown } | null;
        const inside = here || stage === '-' || o?.stage === stage;
        return !(inside && typeof x === 'object' && o !== null && (o.id === name || o.text === name)) && x !== name;
      })
      .map((x: unknown) => takenOut(x, stage, name, here || stage === '-' || (x as { id?: unknown } | null)?.id === stage));
  if (typeof part !== 'object' || part === null) return part;
  return Object.fromEntries(
    Object.entries(part)
      // A figure of a rule set, and a condition on an attribute.
      .filter(([key, v]) => key !== name && v !== name && !(['when', 'says', 'value'].includes(key) && JSON.stringify(v).includes(JSON.stringify(name))))
      .map(([key, v]) => [key, takenOut(v, stage, name, here)]),
  );
}
const out = JSON.parse(process.env['TAKEN_OUT'] ?? '{}') as { procedure?: string; stage?: string; name?: string };
for (const [i, p] of catalogue.entries())
  if (p.id === out.procedure) (catalogue as Procedure[])[i] = takenOut(p, out.stage ?? '-', out.name ?? '', false) as Procedure;
`;

/** Whether a test file fails with a row taken out. */
function notices(copy: string, row: Row): Promise<boolean> {
  return new Promise((done) => {
    const web = row.test.startsWith('web/');
    const [command, args, cwd] = web
      ? (['npx', ['--no-install', 'ng', 'test', '--no-watch', '--include', row.test.replace('web/', '')], join(copy, 'web')] as const)
      : (['npx', ['--no-install', 'vitest', 'run', '--bail', '1', row.test], copy] as const);
    const { procedure, stage, name } = row;
    const env = { ...process.env, NG_CLI_ANALYTICS: 'false', TAKEN_OUT: JSON.stringify({ procedure, stage, name }) };
    spawn(command, args, { cwd, env, stdio: 'ignore' }).on('exit', (code) => done(code !== 0));
  });
}

async function main(): Promise<number> {
  const [asked] = process.argv.slice(2);
  if (asked === '--help') {
    process.stdout.write(usage);
    return 0;
  }
  const rows = rowsOf(readFileSync(join(root, 'docs/coverage.md'), 'utf8')).filter((r) => asked === undefined || JSON.stringify(r).includes(asked));
  const copy = mkdtempSync(join(tmpdir(), 'grellin-taken-out-'));
  try {
    spawnSync('git', ['clone', '-q', root, join(copy, 'p')]);
    const there = join(copy, 'p');
    symlinkSync(join(root, 'node_modules'), join(there, 'node_modules'));
    const index = join(there, 'core/src/procedure/catalogue/index.ts');
    writeFileSync(index, readFileSync(index, 'utf8') + HOOK);
    const missed: Row[] = [];
    const waiting = rows.filter((r) => !r.test.startsWith('web/'));
    for (const r of rows.filter((x) => x.test.startsWith('web/'))) process.stdout.write(`not tried  ${r.procedure}: ${r.what} (a component test)\n`);
    await Promise.all(
      Array.from({ length: AT_ONCE }, async () => {
        for (let row = waiting.shift(); row; row = waiting.shift()) {
          const noticed = await notices(there, row);
          if (!noticed) missed.push(row);
          process.stdout.write(`${noticed ? 'noticed   ' : 'NOT NOTICED'} ${row.procedure} ${row.stage} ${row.name}: ${row.test}\n`);
        }
      }),
    );
    process.stdout.write(`${String(rows.length)} rows, ${String(missed.length)} not noticed\n`);
    return missed.length === 0 ? 0 : 1;
  } finally {
    rmSync(copy, { recursive: true, force: true });
  }
}

process.exitCode = await main();
