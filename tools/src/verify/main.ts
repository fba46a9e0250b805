import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import { pipeline } from 'node:stream/promises';
import {
  BUNDLE_FORMAT,
  isBundleHead,
  readCode,
  verifyCode,
  type AnchoredRecord,
  type BundleLine,
  type Fault,
  type KeptProcedure,
  type KeptRecord,
  type KeptRun,
} from '@grellin/contract';
import { bundleLines, everyRunWhole, inOnePicture, proceduresOf, readAnew, recordByNumber, walk, type Kept, type Walked } from '@grellin/server';
import pg from 'pg';

/** The program behind `npm run verify`: VERIFY_URL names the database, ANCHOR_FILE its anchors. */
const usage = `npm run verify [-- BUNDLE] [--anchors FILE] [--certificate TEXT]… [--export FILE]

Verifies everything that is kept, with no trust in the application: every chain of hashes, its order and its end, what each event is bound to, every
document against its digest, every record against its seal, every paper against its digest.

  npm run verify                       the database of this checkout, or the one that DATABASE_URL names
  npm run verify -- BUNDLE             a bundle that was exported
  --anchors FILE                       also against the anchors in a file (of this checkout's own database: its own, unless it is named)
  --certificate TEXT                   also one certificate: its number, or the text of its code; may be said again
  --export FILE                        writes a bundle instead of verifying

Prints each fault with run and event; exit code 1 when there is one, 2 when it could not be carried out. What today's methods would find of an old run
otherwise is printed apart and is no fault.
`;

interface Asked {
  readonly bundle: string | null;
  readonly anchors: string | null;
  readonly certificates: readonly string[];
  readonly exportTo: string | null;
}

function asked(args: readonly string[]): Asked {
  const found = { bundle: null as string | null, anchors: null as string | null, certificates: [] as string[], exportTo: null as string | null };
  for (let i = 0; i < args.length; i++) {
    const arg = args[i] ?? '';
    if (!arg.startsWith('--')) found.bundle = arg;
    else {
      const value = args[++i];
      if (value === undefined || !['--anchors', '--certificate', '--export'].includes(arg)) throw new RangeError(`${arg} is not known, or lacks its value`);
      if (arg === '--anchors') found.anchors = value;
      else if (arg === '--export') found.exportTo = value;
      else found.certificates.push(value);
    }
  }
  return found;
}

async function* linesOf(file: string): AsyncGenerator<BundleLine> {
  let first = true;
  for await (const line of createInterface({ input: createReadStream(file), crlfDelay: Infinity })) {
    if (line === '') continue;
    const of = JSON.parse(line) as BundleLine;
    if (first && !isBundleHead(of)) throw new RangeError(`${file} is no bundle of Grellin's (${BUNDLE_FORMAT})`);
    first = false;
    yield of;
  }
}

/** A bundle is read twice: once for its documents and the order of its records, once for its runs. */
async function keptInBundle(file: string): Promise<Kept & { readonly record: (number: string) => Promise<KeptRecord | null> }> {
  const procedures: KeptProcedure[] = [];
  const records: KeptRecord[] = [];
  let total = 0;
  for await (const line of linesOf(file)) {
    if ('procedure' in line) procedures.push(line.procedure);
    else if ('run' in line) {
      total++;
      if (line.run.record) records.push(line.run.record);
    }
  }
  records.sort((a, b) => a.sealedOrder - b.sealedOrder);
  async function* runs(): AsyncGenerator<KeptRun> {
    for await (const line of linesOf(file)) if ('run' in line) yield readAnew(line.run);
  }
  async function* inOrder(): AsyncGenerator<AnchoredRecord> {
    for (const { number, run, head } of records) yield await Promise.resolve({ number, run, head });
  }
  return { total, procedures, runs: runs(), records: inOrder, record: (number) => Promise.resolve(records.find((r) => r.number === number) ?? null) };
}

/** Each certificate that was given, as a number or as what its code says. */
async function certificateFaults(texts: readonly string[], record: (number: string) => Promise<KeptRecord | null>): Promise<Fault[]> {
  const faults: Fault[] = [];
  for (const text of texts) {
    const code = readCode(text);
    const kept = await record(code?.number ?? text);
    if (code) faults.push(...verifyCode(code, kept));
    else if (!kept) faults.push({ code: 'certificate.unknown', run: null, seq: null, message: `there is no record ${text}` });
    else process.stdout.write(`${kept.number}: ${kept.verdict}, sealed ${kept.sealedAt}, head ${kept.head}\n`);
  }
  return faults;
}

function report(found: Walked, more: readonly Fault[]): number {
  const faults = [...found.faults, ...more];
  for (const f of faults) process.stdout.write(`FAULT ${f.code}  run ${f.run ?? '–'}  event ${f.seq === null ? '–' : String(f.seq)}  ${f.message}\n`);
  if (found.otherwise.length > 0) process.stdout.write(`\nToday's methods would find otherwise; the sealed records stand:\n`);
  for (const o of found.otherwise) process.stdout.write(`      ${o.record}  run ${o.run}  sealed ${o.sealed}, today ${o.today}\n`);
  process.stdout.write(`\n${String(found.runs)} runs with ${String(found.events)} events verified, ${String(faults.length)} faults\n`);
  return faults.length === 0 ? 0 : 1;
}

function progress(done: number, total: number): void {
  if (process.stderr.isTTY && (done % 50 === 0 || done === total)) process.stderr.write(`\r${String(done)} of ${String(total)} runs`);
  if (process.stderr.isTTY && done === total) process.stderr.write('\n');
}

async function main(args: readonly string[]): Promise<number> {
  const { bundle, anchors, certificates, exportTo } = asked(args);
  const own = process.env['ANCHOR_FILE'];
  const anchorFile = anchors ?? (bundle === null && own !== undefined && existsSync(own) ? own : null);
  if (anchors !== null) await readFile(anchors); // one that was named must be there
  if (bundle !== null) {
    const kept = await keptInBundle(bundle);
    return report(await walk(kept, anchorFile, progress), await certificateFaults(certificates, kept.record));
  }
  const pool = new pg.Pool({ connectionString: process.env['VERIFY_URL'] ?? '', max: 1 });
  try {
    if (exportTo !== null) {
      await pipeline(bundleLines(pool, proceduresOf, everyRunWhole, new Date()), createWriteStream(exportTo, { mode: 0o600 }));
      process.stdout.write(`written to ${exportTo}\n`);
      return 0;
    }
    const client = await pool.connect();
    try {
      return await inOnePicture(client, async (kept) => {
        const found = await walk(kept, anchorFile, progress);
        return report(found, await certificateFaults(certificates, (number) => recordByNumber(client, number)));
      });
    } finally {
      client.release(true);
    }
  } finally {
    await pool.end();
  }
}

if (process.argv.includes('--help')) process.stdout.write(usage);
else
  process.exitCode = await main(process.argv.slice(2)).catch((error: unknown) => {
    process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
    return 2;
  });
