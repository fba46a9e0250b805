import { readFileSync } from 'node:fs';
import { judgeRunFile, Malformed } from '@grellin/contract';

const usage = `Judges run files (grellin-run/1, docs/run-file.md) with no server: the same core that the server asks.

  npm run judge -- FILE...        one line of JSON for each file: {file, verdict, word, findings}
  npm run --silent judge -- -     reads one run from standard input

Exit code 0 when every file could be judged, whatever the verdict; 2 when one could not, with its name and the path of what is wrong on standard error.
`;

function judgeOne(file: string): boolean {
  const name = file === '-' ? 'standard input' : file;
  try {
    const text = readFileSync(file === '-' ? 0 : file, 'utf8');
    const { verdict, word, findings } = judgeRunFile(JSON.parse(text));
    process.stdout.write(`${JSON.stringify({ file, verdict, word, findings })}\n`);
    return true;
  } catch (error) {
    const lines =
      error instanceof Malformed
        ? error.flaws.map((f) => `${f.path === '' ? 'the document' : f.path}: ${f.message}`)
        : [error instanceof Error ? error.message : String(error)];
    for (const line of lines) process.stderr.write(`${name}: ${line}\n`);
    return false;
  }
}

const files = process.argv.slice(2);
if (files.includes('--help')) process.stdout.write(usage);
else if (files.length === 0) {
  process.stderr.write(usage);
  process.exitCode = 2;
} else {
  // Every file is tried, so that one bad file does not hide what is wrong with the next.
  const judged = files.map(judgeOne);
  process.exitCode = judged.every(Boolean) ? 0 : 2;
}
