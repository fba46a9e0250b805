import { migrateDatabase } from '@grellin/server';
import pg from 'pg';

/**
 * An empty, migrated database of a cluster; one of its name that is left from before is dropped.
 * @param owner URL of the cluster's owner
 * @returns its URL
 */
export async function emptyDatabase(owner: string, name: string): Promise<string> {
  const client = new pg.Client({ connectionString: owner });
  await client.connect();
  await client.query(`DROP DATABASE IF EXISTS ${name}`);
  await client.query(`CREATE DATABASE ${name}`);
  await client.end();
  const url = new URL(owner);
  url.pathname = `/${name}`;
  await migrateDatabase(url.href, process.env['MIGRATIONS'] ?? 'server/drizzle');
  return url.href;
}

/** Who a measurement is at its own server. */
export const bencher = { name: 'bench', password: 'bench-password-0' } as const;
