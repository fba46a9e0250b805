import type pg from 'pg';

/** What makes a sign-in for the server that may only add to what is sealed. */
const STATEMENT = "CREATE ROLE grellin_server LOGIN PASSWORD '…' IN ROLE grellin_app;";

/**
 * Whether whoever signed in to the database could change what is sealed, if it were not for the role that every connection takes on.
 * @returns what to say and do about it; null when the seal is protected
 */
export async function sealUnprotected(pool: pg.Pool): Promise<string | null> {
  const { rows } = await pool.query<{ owns: boolean }>(
    `SELECT bool_or(r.rolsuper OR pg_has_role(session_user, t.tableowner::name, 'USAGE')) AS owns
      FROM pg_tables t, pg_roles r WHERE t.schemaname = 'public' AND t.tablename IN ('run_event', 'record') AND r.rolname = session_user`,
  );
  if (!rows[0]?.owns) return null;
  return `The seal is not protected: DATABASE_URL signs in as an owner of the tables. As the owner, make a role for the server (${STATEMENT}) and name it in DATABASE_URL; OWNER_DATABASE_URL keeps the owner for migrations.`;
}
