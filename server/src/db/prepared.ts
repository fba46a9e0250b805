import type pg from 'pg';
import type { Queries } from './database';

/** What a transaction, or a database as a whole, sends its statements to: a connection, or the pool. Drizzle keeps it to itself. */
export const clientOf = (db: Queries): pg.ClientBase => (db._.session as unknown as { readonly client: pg.ClientBase }).client;

/**
 * A query that is built once for each connection, and planned there once by its name, instead of at every transaction: for what is asked many times a
 * second. What differs from one time to the next are its placeholders.
 * @example const byId = preparedOnce((db) => db.select().from(run).where(eq(run.id, sql.placeholder('id'))).prepare('run_by_id'))
 */
export function preparedOnce<P>(make: (db: Queries) => P): (db: Queries) => P {
  const kept = new WeakMap<object, P>();
  return (db) => {
    const client = clientOf(db);
    const prepared = kept.get(client) ?? make(db);
    kept.set(client, prepared);
    return prepared;
  };
}
