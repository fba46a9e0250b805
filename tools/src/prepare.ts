import { connect, migrateDatabase } from '@grellin/server';
import pg from 'pg';
import { loadDemo } from './demo/load';
import { people } from './demo/station';

/**
 * Makes a database ready to serve: newest schema, the application's own sign-in on the embedded cluster, the demo when it is empty.
 * OWNER_URL names the owner's sign-in, MIGRATIONS the folder, APP_PASSWORD (embedded cluster only) the application's password, DEMO=1 asks for the demo.
 */
const owner = process.env['OWNER_URL'] ?? '';
const appPassword = process.env['APP_PASSWORD'];

async function query<T extends pg.QueryResultRow>(sql: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: owner });
  await client.connect();
  try {
    return (await client.query<T>(sql)).rows;
  } finally {
    await client.end();
  }
}

await migrateDatabase(owner, process.env['MIGRATIONS'] ?? 'server/drizzle');
if (appPassword !== undefined) {
  const quoted = pg.escapeLiteral(appPassword);
  await query(`ALTER ROLE grellin_app LOGIN PASSWORD ${quoted}`);
}
if (process.env['DEMO'] === '1') {
  const [empty] = await query<{ empty: boolean }>('SELECT NOT EXISTS (SELECT FROM account) AS empty');
  if (empty?.empty) {
    const connection = connect(owner);
    try {
      await connection.db.transaction((tx) => loadDemo(tx, new Date()));
      console.log('demo loaded');
    } finally {
      await connection.close();
    }
  }
  for (const p of people) console.log(`sign-in ${p.name} ${p.password} ${p.role}`);
}
console.log('done');
