import { readFileSync } from 'node:fs';
import { createHash } from 'node:crypto';
import { judgeProvedRunFile, loadProcedure, Malformed, type Sha256 } from '@grellin/contract';
import type { Procedure } from '@grellin/core';

const usage = `Judges run files (grellin-run/1 and /2, docs/run-file.md) with no server: the same core that the server asks.

  npm run judge -- FILE...        one line of JSON for each file:
                                  {file, verdict, word, blocks, holds, condemns, proof, findings, earlier}
                                  proof is the head of the chain, or "unproved" for a file without one
  npm run --silent judge -- -     reads one run from standard input
  npm run judge -- --procedure MINE.json FILE...
                                  judges by a procedure of your own (docs/procedure.schema.json) and not by a built-in one

Exit code 0 when every file could be judged, whatever the verdict; 2 when one could not, with its name and the path of what is wrong on standard error:
a file with a chain of which an event was taken out, moved or changed is not judged at all.
`;

/** Tries something with a file; what is wrong with it goes to standard error, a line for each flaw. */
async function tried<T>(file: string, attempt: (value: unknown) => T | Promise<T>): Promise<T | null> {
  const name = file === '-' ? 'standard input' : file;
  try {
    return await attempt(JSON.parse(readFileSync(file === '-' ? 0 : file, 'utf8')));
  } catch (error) {
    const lines =
      error instanceof Malformed
        ? error.flaws.map((f) => `${f.path === '' ? 'the document' : f.path}: ${f.message}`)
        : [error instanceof Error ? error.message : String(error)];
    for (const line of lines) process.stderr.write(`${name}: ${line}\n`);
    return null;
  }
}

const sha256: Sha256 = (text) => createHash('sha256').update(text).digest('hex');

async function judgeOne(file: string, own: Procedure | undefined): Promise<boolean> {
  const judged = await tried(file, (value) => judgeProvedRunFile(value, sha256, own));
  if (!judged) return false;
  const { verdict, word, blocks, holds, condemns, proof, findings, earlier } = judged;
  const line = { file, verdict, word, blocks, holds, condemns, proof: proof === 'unproved' ? proof : proof.head, findings, earlier };
  process.stdout.write(`${JSON.stringify(line)}\n`);
  return true;
}

async function judgeAll(words: readonly string[]): Promise<number> {
  const at = words.indexOf('--procedure');
  const mine = at < 0 ? undefined : words[at + 1];
  const files = at < 0 ? words : [...words.slice(0, at), ...words.slice(at + 2)];
  if (files.length === 0 || (at >= 0 && mine === undefined)) {
    process.stderr.write(usage);
    return 2;
  }
  const own = mine === undefined ? undefined : await tried(mine, loadProcedure);
  if (own === null) return 2;
  // Every file is tried, so that one bad file does not hide what is wrong with the next.
  const judged: boolean[] = [];
  for (const file of files) judged.push(await judgeOne(file, own));
  return judged.every(Boolean) ? 0 : 2;
}

const words = process.argv.slice(2);
if (words.includes('--help')) process.stdout.write(usage);
else process.exitCode = await judgeAll(words);
