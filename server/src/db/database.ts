import { setTimeout as pause } from 'node:timers/promises';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { mayTryAgain } from './refusal';
import * as schema from './table/index';

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

/**
 * What every connection of the application runs as: it may only add to events and records, whoever signed in to the database. Its statements are short
 * and wide: compiling one takes seconds, which running it never does.
 */
const OPTIONS = '-c role=grellin_app -c jit=off';
/** A request that finds no connection for so long is told so. */
const CONNECT_MS = 10_000;
const MOST_TRIES = 6;
const FIRST_PAUSE_MS = 10;

/** One client outside the pool, for locks and for listening. */
export function lonelyClient(url: string): pg.Client {
  return new pg.Client({ connectionString: url, options: OPTIONS, keepAlive: true, connectionTimeoutMillis: CONNECT_MS });
}

/** Does a transaction again that lost to another's, with a growing pause of which part is left to chance, so that two do not meet again. */
async function untilDone<T>(work: () => Promise<T>): Promise<T> {
  for (let tried = 1; ; tried++)
    try {
      return await work();
    } catch (error) {
      if (tried === MOST_TRIES || !mayTryAgain(error)) throw error;
      await pause(FIRST_PAUSE_MS * 2 ** tried * (0.5 + Math.random()));
    }
}

/**
 * Connects to a database. Every transaction on it is done again when it was the victim of a deadlock or could not be put in order with another: the work
 * given to `transaction` must have no effect outside of it.
 */
export function connect(url: string): Connection {
  const pool = new pg.Pool({ connectionString: url, options: OPTIONS, max: 10, connectionTimeoutMillis: CONNECT_MS });
  // A connection that dies, idle or at work, must not take the server with it: the query that had it fails, and the next one says so.
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  const db = drizzle(pool, { schema });
  const once = db.transaction.bind(db);
  db.transaction = (work, config) => untilDone(() => once(work, config));
  return { db, pool, close: () => pool.end() };
}
