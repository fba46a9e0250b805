import { rmSync } from 'node:fs';
import { mkdtemp, chmod } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import type { TestProject } from 'vitest/node';
import { startPostgres } from '../../../tools/machine/postgres.mjs';
import { migrateDatabase } from '../../src';

declare module 'vitest' {
  interface ProvidedContext {
    ownerUrl: string;
  }
}

/** One cluster for all the tests, in a folder and on a port of its own; every test file copies the migrated database for itself. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = await mkdtemp(join(tmpdir(), 'grellin-test-'));
  await chmod(folder, 0o755);
  const cluster = await startPostgres({ folder: join(folder, 'pg'), durable: false });
  const client = new pg.Client({ connectionString: cluster.url });
  await client.connect();
  await client.query('CREATE DATABASE template_grellin');
  await client.end();
  await migrateDatabase(cluster.url.replace(/postgres$/, 'template_grellin'), new URL('../../drizzle', import.meta.url).pathname);
  project.provide('ownerUrl', cluster.url);
  return () => {
    cluster.stop();
    rmSync(folder, { recursive: true, force: true });
    return Promise.resolve();
  };
}
