import { Readable } from 'node:stream';
import { BUNDLE_FORMAT, type BundleLine, type KeptProcedure, type KeptRun } from '@grellin/contract';
import type pg from 'pg';
import { countRuns } from './source';

/** Everything that verifying needs, a line at a time, from one picture of the database. */
export function bundleLines(
  pool: pg.Pool,
  procedures: (client: pg.PoolClient) => Promise<readonly KeptProcedure[]>,
  runs: (client: pg.PoolClient) => AsyncIterable<KeptRun>,
  now: Date,
): Readable {
  const line = (of: BundleLine): string => `${JSON.stringify(of)}\n`;
  async function* lines(): AsyncGenerator<string> {
    const client = await pool.connect();
    try {
      await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
      yield line({ format: BUNDLE_FORMAT, at: now.toISOString(), runs: await countRuns(client) });
      for (const procedure of await procedures(client)) yield line({ procedure });
      for await (const run of runs(client)) yield line({ run });
      await client.query('COMMIT');
    } finally {
      client.release(true);
    }
  }
  return Readable.from(lines());
}
