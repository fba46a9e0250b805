import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';

/** Any number, as long as nobody else locks on it. */
const MIGRATION_LOCK = 460_000_001;

/**
 * Brings a database to the newest schema. Two servers that start at once wait for one another.
 * @param url a role that owns the schema
 * @param folder the folder of migrations
 */
export async function migrateDatabase(url: string, folder: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query('SELECT pg_advisory_lock($1)', [MIGRATION_LOCK]);
    await migrate(drizzle(client), { migrationsFolder: folder });
  } finally {
    await client.end();
  }
}
