import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import * as schema from './schema';

export type Database = NodePgDatabase<typeof schema>;
export type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];
/** A database or a transaction on it. */
export type Queries = Database | Transaction;

/** What a piece of work can be done on as a whole: a database, or a transaction that has begun. */
export interface Transactional {
  readonly transaction: <T>(work: (tx: Transaction) => Promise<T>) => Promise<T>;
}

export interface Connection {
  readonly db: Database;
  readonly pool: pg.Pool;
  readonly close: () => Promise<void>;
}

/** What every connection of the application runs as: it may only add to events and records, whoever signed in to the database. */
const APP_ROLE = '-c role=grellin_app';

/** One client outside the pool, for locks and for listening. */
export function lonelyClient(url: string): pg.Client {
  return new pg.Client({ connectionString: url, options: APP_ROLE, keepAlive: true });
}

export function connect(url: string): Connection {
  const pool = new pg.Pool({ connectionString: url, options: APP_ROLE, max: 10 });
  // A connection that dies while idle must not take the server with it: the next query says so.
  pool.on('error', () => undefined);
  return { db: drizzle(pool, { schema }), pool, close: () => pool.end() };
}
