import { createHash, randomBytes } from 'node:crypto';
import { catalogue } from '@grellin/core';
import type { FastifyInstance } from 'fastify';
import { fuzz, type Fuzzed } from './fuzz';
import { vocabularyOf, type Asked } from './vocabulary';

/** Tables that a refused request must leave as they were; those that are only added to are counted, those that are changed are summed. */
const FINGERPRINT = `SELECT concat_ws(',', ${[
  'run',
  'run_event',
  'run_lease',
  'record',
  'asset',
  'obligation',
  'change',
  'occasion',
  'kit',
  'leak',
  'device_hold',
  'calibration',
  'authorisation',
  'planned',
  'plan_bench',
  'account',
]
  .map((table) => `(SELECT count(*) FROM ${table})`)
  .join(', ')}, (SELECT sum(revision) FROM asset), (SELECT sum(seq) FROM run), (SELECT count(*) FROM authorisation WHERE withdrawn_at IS NULL),
  (SELECT count(*) FROM obligation WHERE archived_at IS NULL)) AS v`;

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

/** Sends requests to a server with the words of its own database, signed in without passwords, as often as something ends a session. */
export async function fuzzAt(app: FastifyInstance, pool: Asked, requests: number, seed: number, patienceMs?: number): Promise<Fuzzed> {
  const people = new Map((await pool.query('SELECT role AS k, id AS v FROM account')).rows.map((r) => [String(r['k']), String(r['v'])]));
  const sessions = new Map<string, string>();
  const valid = async (token: string | undefined): Promise<boolean> =>
    token !== undefined && (await pool.query(`SELECT 1 AS v FROM session WHERE token_hash = '${hashOf(token)}'`)).rows.length > 0;
  return fuzz({
    app,
    requests,
    seed,
    ...(patienceMs === undefined ? {} : { patienceMs }),
    words: await vocabularyOf(pool, catalogue),
    cookie: async (role) => {
      let token = sessions.get(role);
      if (token === undefined || !(await valid(token))) {
        token = randomBytes(32).toString('base64url');
        await pool.query(
          `INSERT INTO session (token_hash, account, expires_at) VALUES ('${hashOf(token)}', '${people.get(role) ?? ''}', now() + interval '1 day')`,
        );
        sessions.set(role, token);
      }
      return `grellin_session=${token}`;
    },
    fingerprint: async () => String((await pool.query(FINGERPRINT)).rows[0]?.['v']),
  });
}
