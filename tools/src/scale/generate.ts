import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { assetClasses, usualChecksOf } from '@grellin/core';
import { builtIn } from '@grellin/server';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { v7 } from 'uuid';

/** Three obligations and ten runs an asset. */
const OBLIGATIONS = 3;
const RUNS = 10;
const DAY_MS = 86_400_000;

const places = Array.from({ length: 40 }, (_, i) => `Hall ${String(i + 1)}`);
const kinds = assetClasses.filter((c) => usualChecksOf(c.id).length > 0);

/** Fields of one line of COPY's text format. */
const line = (fields: readonly (string | number | boolean | null)[]): string =>
  `${fields.map((f) => (f === null ? '\\N' : String(f).replace(/\\/g, '\\\\').replace(/\t/g, '\\t').replace(/\n/g, '\\n'))).join('\t')}\n`;

async function copy(client: pg.Client, table: string, columns: string, lines: Iterable<string>): Promise<void> {
  const into = client.query(copyFrom(`COPY ${table} (${columns}) FROM STDIN`));
  // A line at a time would spend its time in the stream and not in the database.
  function* chunks(): Generator<string> {
    let chunk = '';
    for (const l of lines) {
      chunk += l;
      if (chunk.length > 65_536) {
        yield chunk;
        chunk = '';
      }
    }
    if (chunk !== '') yield chunk;
  }
  await pipeline(Readable.from(chunks()), into);
}

export interface Scaled {
  readonly assets: readonly string[];
}

/**
 * Fills an empty, migrated database with assets, what they owe, and closed runs with their records, through COPY. The runs carry no events: the pages that are
 * measured read records.
 * @param client a role that owns the schema
 * @param account who opened the runs
 */
export async function generate(client: pg.Client, n: number, account: string, now: Date): Promise<Scaled> {
  let seed = 11;
  const draw = (m: number): number => (seed = (seed * 48_271) % 2_147_483_647) % m;
  const day = (days: number): string => new Date(now.getTime() + days * DAY_MS).toISOString().slice(0, 10);
  const assets = Array.from({ length: n }, (_, i) => ({ id: v7(), kind: kinds[i % kinds.length]?.id ?? '', n: i }));
  await client.query("SET session_replication_role = 'replica'"); // made up by a program: no reference can be wrong
  await copy(client, 'asset', 'id, tag, serial, class, title, place, practice, attributes, revision, created_at', map(assets, (a) =>
    line([a.id, `X${String(a.n).padStart(6, '0')}`, `S-${String((a.n * 7919) % 1_000_003)}`, a.kind, `Item ${String(a.n % 997)} of its kind`, places[draw(places.length)] ?? '', true, '{}', 1, now.toISOString()]))); // prettier-ignore
  const procedures = builtIn.map((b) => ({ id: b.document.id, digest: b.digest, ruleSet: b.document.ruleSets[0]?.id ?? '' }));
  const owed = function* (): Generator<string> {
    for (const a of assets) {
      const usual = usualChecksOf(a.kind);
      for (let k = 0; k < OBLIGATIONS; k++) {
        const procedure = usual[k]?.procedure ?? procedures[(a.n + k) % procedures.length]?.id ?? '';
        const taken = usual.slice(0, k).some((u) => u.procedure === procedure);
        // One in two hundred is late, one in thirty falls due in the next two weeks; the rest lies further off.
        const due = draw(200) === 0 ? day(-1 - draw(60)) : draw(30) === 0 ? day(draw(14)) : day(15 + draw(900));
        if (!taken)
          yield line([
            v7(),
            a.id,
            procedure,
            'general',
            'P1Y',
            'rolling',
            day(-365),
            due,
            'day',
            '[]',
            false,
            day(-365),
            new Date(now.getTime() - 365 * DAY_MS).toISOString(),
          ]);
      }
    }
  };
  await copy(
    client,
    'obligation',
    'id, asset, procedure, rule_set, interval, counting, anchor, due, stamp, triggers, hard, last_done, last_done_at',
    unique(owed()),
  );
  const runs: { readonly id: string; readonly asset: string; readonly procedure: number; readonly at: string; readonly n: number; readonly fail: boolean }[] =
    [];
  for (const a of assets)
    for (let k = 0; k < RUNS; k++) {
      const at = new Date(now.getTime() - (k * 100 + draw(90) + 1) * DAY_MS).toISOString();
      // One item in a hundred failed the last time.
      runs.push({
        id: v7({ msecs: Date.parse(at) }),
        asset: a.id,
        procedure: a.n % procedures.length,
        at,
        n: a.n * RUNS + k,
        fail: k === 0 && a.n % 100 === 0,
      });
    }
  const head = '0'.repeat(64);
  // Each was sealed before the next was opened.
  runs.sort((a, b) => (a.at < b.at ? -1 : 1));
  const order = new Map(runs.map((r, i) => [r.id, 2 * i + 1]));
  await copy(client, 'run', 'id, procedure, digest, rule_set, asset, opened_by, started_at, clock, paced, lease, lease_by, seq, head, closed, blocks, opened_order', map(runs, (r) => {
    const p = procedures[r.procedure];
    return line([r.id, p?.id ?? '', p?.digest ?? '', p?.ruleSet ?? '', r.asset, account, r.at, 'live', false, 1, account, 0, head, true, r.fail, order.get(r.id) ?? 0]);
  })); // prettier-ignore
  await copy(
    client,
    'run_asset',
    'run, role, asset',
    map(runs, (r) => line([r.id, 'item', r.asset])),
  );
  await copy(client, 'record', 'number, run, procedure, asset, verdict, word, blocks, counts, simulated, allowance_percent, summary, result, head, sealed_at, by, sealed_order', map(runs, (r) =>
    line([`GR-${String(r.n).padStart(8, '0')}`, r.id, procedures[r.procedure]?.id ?? '', r.asset, r.fail ? 'fail' : 'pass', r.fail ? 'leaks' : 'tight', r.fail, true, false, r.fail ? 140 : 20 + (r.n % 60), r.fail ? 'it lost too much' : 'it held', '{"findings":[],"earlier":[]}', head, r.at, account, (order.get(r.id) ?? 0) + 1]))); // prettier-ignore
  await client.query("SELECT setval('station_order', $1)", [2 * runs.length + 2]);
  await client.query("SET session_replication_role = 'origin'");
  await client.query('ANALYZE');
  return { assets: assets.map((a) => a.id) };
}

function* map<T>(list: Iterable<T>, of: (item: T) => string): Generator<string> {
  for (const item of list) yield of(item);
}

/** An asset owes a procedure once. */
function* unique(lines: Iterable<string>): Generator<string> {
  let asset = '';
  let seen = new Set<string>();
  for (const l of lines) {
    const [, of = '', procedure = ''] = l.split('\t');
    if (of !== asset) {
      asset = of;
      seen = new Set();
    }
    if (seen.has(procedure)) continue;
    seen.add(procedure);
    yield l;
  }
}
