import { isZone } from '@grellin/core';
import { connect, migrateDatabase, Moment } from '@grellin/server';
import pg from 'pg';
import { loadDemo } from './demo/load';
import { people } from './demo/people';

/**
 * Makes a database ready to serve: newest schema, the application's own sign-in on the embedded cluster, the demo when it is empty.
 * OWNER_URL names the owner's sign-in, MIGRATIONS the folder, APP_PASSWORD (embedded cluster only) the application's password, DEMO=1 asks for the demo,
 * STATION_ZONE the time zone of a new station, which is this machine's otherwise.
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
const [empty] = await query<{ empty: boolean }>('SELECT NOT EXISTS (SELECT FROM account) AS empty');
const zone = process.env['STATION_ZONE'] ?? Intl.DateTimeFormat().resolvedOptions().timeZone;
if (!isZone(zone)) throw new RangeError(`STATION_ZONE: ${zone} is not the name of a time zone`);
// A station's zone is set once, at its first start; from then on it is the officer's to change.
if (empty?.empty) await query(`UPDATE station SET zone = ${pg.escapeLiteral(zone)}`);
if (process.env['DEMO'] === '1') {
  if (empty?.empty) {
    const connection = connect(owner);
    try {
      await connection.db.transaction((tx) => loadDemo(tx, new Moment(new Date(), zone)));
      await query("UPDATE station SET name = 'Skarvoy Sound Station'");
      console.log('demo loaded');
    } finally {
      await connection.close();
    }
  }
  for (const p of people) console.log(`sign-in ${p.name} ${p.password} ${p.role}`);
}
if (process.env['DEMO'] !== '1' && empty?.empty) console.log('empty');
console.log('done');
