import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { isBare, restore } from './machine/dump.mjs';
import { ownerAccess, runningPort } from './machine/embedded.mjs';
import { ensurePackages } from './machine/packages.mjs';
import { dataFolder, root } from './machine/paths.mjs';
import { main, say, Stop } from './machine/say.mjs';

const usage = `Reads a backup into an empty database, brings it to the newest schema, and verifies every chain of it.

  npm run restore -- FILE                     into the database of this checkout, which must be new and not running
  DATABASE_URL=… npm run restore -- FILE      into another, which must be empty; OWNER_DATABASE_URL where its owner signs in otherwise

Nothing that is there is ever written over: move the old data folder away first. Exit code 1 when a fault is found.
`;

await main(async () => {
  const [file, ...more] = process.argv.slice(2);
  if (file === '--help') return void process.stdout.write(usage);
  if (file === undefined || more.length > 0) throw new Stop(usage);
  const from = resolve(process.env.INIT_CWD ?? root, file);
  if (!existsSync(from)) throw new Stop(`There is no file ${from}.`);
  const external = process.env.OWNER_DATABASE_URL ?? process.env.DATABASE_URL;
  if (!external && runningPort(dataFolder()) !== null) throw new Stop('Grellin runs on this checkout’s database: stop it first.');
  ensurePackages();
  const { buildPrograms, distFolder } = await import('./build.mjs');
  await buildPrograms();
  const access = await ownerAccess({ make: true });
  try {
    if (!isBare(access.url)) throw new Stop('This database is not empty: nothing was restored. Name an empty one, or move the data folder away.');
    restore(access.url, from);
    say('restored; bringing it to the newest schema');
    const env = { ...process.env, OWNER_URL: access.url, MIGRATIONS: join(root, 'server', 'drizzle'), VERIFY_URL: access.url };
    const prepared = spawnSync(process.execPath, [join(distFolder, 'prepare.mjs')], { stdio: ['ignore', 'ignore', 'inherit'], cwd: root, env });
    if (prepared.status !== 0) throw new Stop('The restored database could not be brought to the newest schema.');
    say('verifying');
    process.exitCode = spawnSync(process.execPath, [join(distFolder, 'verify.mjs')], { stdio: 'inherit', cwd: root, env }).status ?? 2;
  } finally {
    access.stop();
  }
});
