import { addDays } from '@grellin/core';
import { bareConfig, build, connect, createAccount, Moment, refreshMissing } from '@grellin/server';
import pg from 'pg';
import { bencher, emptyDatabase } from '../measure/database';
import { report, timedInTurn } from '../measure/ratio';
import { generate } from './generate';

const SIZES = [1000, 10_000, 100_000] as const;
const TIMES = 15;
/** A page may cost this many times what the bare rows cost. */
const MOST_RATIO = 4;
/** Nothing grows faster than the logarithm of the assets. */
const MOST_GROWTH = Math.log(SIZES[2]) / Math.log(SIZES[0]);

interface Page {
  readonly name: string;
  /** The path of one of many like questions. */
  readonly path: (i: number) => string;
  /** The bare SQL for the same rows. */
  readonly bare: (i: number) => readonly (readonly [string, readonly unknown[]])[];
}

const joined = 'SELECT a.*, s.* FROM asset a JOIN standing s ON s.asset = a.id';

function pagesOf(assets: readonly string[], today: string): readonly Page[] {
  const at = (i: number): string => assets[(i * 7919) % assets.length] ?? '';
  const tag = (i: number): string => `x${String((i * 7919) % assets.length).padStart(6, '0')}`;
  return [
    {
      name: 'Today',
      path: () => '/api/today',
      bare: () => [
        [`${joined} WHERE NOT s.archived AND (s.blocked_by IS NOT NULL OR s.life_ends < $1) ORDER BY s.due, s.asset LIMIT 41`, [today]],
        [`${joined} WHERE NOT s.archived AND s.due < $1 AND s.blocked_by IS NULL ORDER BY s.due, s.asset LIMIT 41`, [today]],
        [`${joined} WHERE NOT s.archived AND s.due BETWEEN $1 AND $2 AND s.owed_now IS NULL AND s.blocked_by IS NULL ORDER BY s.due, s.asset LIMIT 41`, [today, addDays(today, 14)]],
        [`${joined} WHERE NOT s.archived AND s.due < $1 AND s.usable_until > s.due AND s.usable_until >= $1 AND s.blocked_by IS NULL ORDER BY s.due, s.asset LIMIT 41`, [today]],
        ['SELECT i.*, a.tag, a.title FROM instrument i JOIN asset a ON a.id = i.id WHERE i.fitted_to IS NULL AND i.calibration_due <= $1 ORDER BY i.calibration_due LIMIT 40', [addDays(today, 30)]],
        ['SELECT * FROM kit WHERE archived_at IS NULL ORDER BY name', []],
        ['SELECT run.*, a.tag, a.title, p.full_name FROM run JOIN asset a ON a.id = run.asset JOIN account p ON p.id = run.opened_by WHERE NOT run.closed', []],
      ],
    },
    {
      name: 'a register page',
      path: (i) => `/api/assets?limit=50&sort=tag&after=${Buffer.from(JSON.stringify([tag(i).toUpperCase(), at(i)])).toString('base64url')}`,
      bare: (i) => [[`${joined} WHERE NOT s.archived AND (a.tag, a.id) > ($1, $2::uuid) ORDER BY a.tag, a.id LIMIT 51`, [tag(i).toUpperCase(), at(i)]]],
    },
    {
      name: 'a search',
      path: (i) => `/api/assets?limit=50&q=${tag(i)}`,
      bare: (i) => [[`${joined} WHERE NOT s.archived AND a.search LIKE $1 ORDER BY a.tag, a.id LIMIT 51`, [`%${tag(i)}%`]]],
    },
    {
      name: 'an asset page',
      path: (i) => `/api/assets/${at(i)}`,
      bare: (i) => [
        [`${joined} WHERE a.id = $1`, [at(i)]],
        ['SELECT * FROM obligation WHERE asset = $1 AND archived_at IS NULL ORDER BY due', [at(i)]],
        ['SELECT i.*, a.tag, a.title FROM instrument i JOIN asset a ON a.id = i.id WHERE i.fitted_to = $1', [at(i)]],
        ['SELECT r.*, a.tag, a.title, run.*, p.full_name FROM run_asset ra JOIN record r ON r.run = ra.run JOIN asset a ON a.id = r.asset JOIN run ON run.id = r.run JOIN account p ON p.id = r.by WHERE ra.asset = $1 ORDER BY r.sealed_at DESC', [at(i)]],
        ['SELECT l.*, p.full_name FROM leak l JOIN account p ON p.id = l.by WHERE l.asset = $1', [at(i)]],
        ['SELECT k.* FROM kit_asset ka JOIN kit k ON k.id = ka.kit WHERE ka.asset = $1', [at(i)]],
        ['SELECT o.*, p.full_name FROM occasion o JOIN account p ON p.id = o.by WHERE o.asset = $1 ORDER BY o.at DESC', [at(i)]],
      ],
    },
  ];
} // prettier-ignore

/** Times the pages of the register at one size. @returns the median of each page, ms */
async function at(owner: string, n: number): Promise<ReadonlyMap<string, number>> {
  const now = new Date();
  const url = await emptyDatabase(owner, `scale_${String(n)}`);
  const app = await build(bareConfig(url));
  const connection = connect(url);
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await app.ready();
    const me = await createAccount(connection.db, { ...bencher, fullName: 'The bench', role: 'officer' }, false, new Moment(now, 'UTC'));
    const { assets } = await generate(client, n, me.id, now);
    await refreshMissing(connection.db);
    await client.query('ANALYZE');
    const signedIn = await app.inject({ method: 'POST', url: '/api/session', payload: bencher });
    const cookie = signedIn.cookies.map((c) => `${c.name}=${c.value}`).join('; ');
    const found = new Map<string, number>();
    for (const page of pagesOf(assets, now.toISOString().slice(0, 10))) {
      const [served, bare] = await timedInTurn(
        TIMES,
        async (i) => {
          const reply = await app.inject({ method: 'GET', url: page.path(i), headers: { cookie } });
          if (reply.statusCode !== 200) throw new Error(`${page.path(i)}: ${reply.body}`);
        },
        async (i) => {
          for (const [sql, values] of page.bare(i)) await connection.pool.query(sql, [...values]);
        },
      );
      found.set(page.name, served);
      report(`${page.name} at ${String(n)} assets ÷ the bare SQL for its rows`, served / bare, MOST_RATIO, `${served.toFixed(1)} ms ÷ ${bare.toFixed(1)} ms`);
    }
    return found;
  } finally {
    await app.close();
    await connection.close();
    await client.end();
  }
}

/** The register at three sizes: each page against its bare SQL, and against itself a hundred times smaller. */
export async function scale(owner: string): Promise<void> {
  const times: (readonly [number, ReadonlyMap<string, number>])[] = [];
  for (const n of SIZES) times.push([n, await at(owner, n)]);
  const [, least] = times[0] ?? [0, new Map<string, number>()];
  const [, most] = times.at(-1) ?? [0, new Map<string, number>()];
  for (const [name, served] of most)
    report(
      `${name}: 100 000 ÷ 1 000 assets`,
      served / (least.get(name) ?? served),
      Number(MOST_GROWTH.toFixed(2)),
      `${served.toFixed(1)} ms ÷ ${(least.get(name) ?? 0).toFixed(1)} ms`,
    );
}
