import { bareConfig, build, connect, migrateDatabase, Moment, recomputeStanding } from '@grellin/server';
import { loadDemo } from '../demo/load';
import { fuzzAt } from './atServer';

/** The program behind `npm run fuzz`: OWNER_URL names a private cluster, MIGRATIONS the folder. */
const usage = `npm run fuzz [-- --requests N] [--seed N]

Loads the demo into a database of its own, and sends it N requests (10000) made from the server's own OpenAPI description: valid ones with ids that are
there, and the same with something spoiled. Exit code 1 when one answers 5xx, takes over 5 s, or was refused and changed something all the same.
`;

function numberAfter(args: readonly string[], name: string, otherwise: number): number {
  const at = args.indexOf(name);
  const value = at < 0 ? otherwise : Number(args[at + 1]);
  if (!Number.isSafeInteger(value) || value < 0) throw new RangeError(`${name} asks for a whole number`);
  return value;
}

async function main(args: readonly string[]): Promise<number> {
  const requests = numberAfter(args, '--requests', 10_000);
  const seed = numberAfter(args, '--seed', 20261127);
  const url = process.env['OWNER_URL'] ?? '';
  await migrateDatabase(url, process.env['MIGRATIONS'] ?? 'server/drizzle');
  const connection = connect(url);
  await connection.db.transaction((tx) => loadDemo(tx, new Moment(new Date(), 'UTC')));
  const app = await build(bareConfig(url));
  await app.ready();
  const done = await fuzzAt(app, connection.pool, requests, seed);
  const stale = await recomputeStanding(connection.db);
  const statuses = Object.entries(done.byStatus).map(([status, n]) => `${status} × ${String(n)}`);
  process.stdout.write(`${String(done.requests)} requests to ${String(done.operations)} operations, seed ${String(seed)}: ${statuses.join(', ')}\n`);
  process.stdout.write(
    `${String(done.accepted)} accepted; slowest ${done.slowestMs.toFixed(0)} ms; ${String(stale.length)} items stood otherwise than recomputed\n`,
  );
  for (const { what, request } of done.faults.slice(0, 50)) process.stdout.write(`FAULT ${what}\n      ${request}\n`);
  process.stdout.write(`${String(done.faults.length)} faults\n`);
  await app.close();
  await connection.close();
  return done.faults.length + stale.length === 0 ? 0 : 1;
}

if (process.argv.includes('--help')) process.stdout.write(usage);
else process.exitCode = await main(process.argv.slice(2));
