import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensurePostgres } from './debian.mjs';
import { Stop } from './say.mjs';

/** Runs one of PostgreSQL's programs on a database; its password goes by the environment, where no list of processes shows it. */
function onDatabase(program, url, args, what) {
  const { hostname, port, username, password, pathname, searchParams } = new URL(url);
  const env = {
    ...process.env,
    PGHOST: hostname,
    PGPORT: port || '5432',
    PGUSER: decodeURIComponent(username),
    PGPASSWORD: decodeURIComponent(password),
    PGDATABASE: decodeURIComponent(pathname.slice(1)) || 'postgres',
    ...(searchParams.get('sslmode') ? { PGSSLMODE: searchParams.get('sslmode') } : {}),
  };
  const done = spawnSync(join(ensurePostgres(), program), args, { env, encoding: 'utf8', maxBuffer: 64 << 20 });
  if (done.error) throw done.error;
  if (done.status !== 0) throw new Stop(`${what} failed:\n${done.stderr}`);
  return done.stdout;
}

const sql = (url, statement) => onDatabase('psql', url, ['-X', '-q', '-t', '-A', '-v', 'ON_ERROR_STOP=1', '-c', statement], 'The database’s answer').trim();

/** Writes everything that a database holds, with its grants, in pg_dump's custom format. */
export function dump(url, file) {
  onDatabase('pg_dump', url, ['--format=custom', '--compress=9', '--no-owner', '--file', file], 'The backup');
}

/** Whether a database has nothing in it yet. */
export const isBare = (url) => sql(url, "SELECT count(*) = 0 FROM information_schema.tables WHERE table_schema IN ('public', 'drizzle')") === 't';

/**
 * Reads a backup into a bare database, whole or not at all. The application's role, which the grants are to, is made first where it is not there: roles
 * belong to the cluster, and no dump of one database holds them.
 */
export function restore(url, file) {
  sql(
    url,
    "DO $$ BEGIN IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'grellin_app') THEN CREATE ROLE grellin_app NOLOGIN; END IF; EXECUTE format('GRANT grellin_app TO %I', current_user); END $$",
  );
  onDatabase(
    'pg_restore',
    url,
    ['--exit-on-error', '--single-transaction', '--no-owner', '--dbname', new URL(url).pathname.slice(1) || 'postgres', file],
    'The restoring',
  );
}
