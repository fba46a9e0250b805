import { assetClasses, units, type Procedure } from '@grellin/core';
import type { Vocabulary } from './shape';

/** What a query can be asked of. */
export interface Asked {
  readonly query: (sql: string) => Promise<{ readonly rows: readonly Readonly<Record<string, unknown>>[] }>;
}

/** The words that a station knows: ids that are there, names of its procedures and their parts, so that requests get past the door. */
export async function vocabularyOf(pool: Asked, procedures: readonly Procedure[]): Promise<Vocabulary> {
  const column = async (sql: string): Promise<string[]> => (await pool.query(sql)).rows.map((r) => String(r['v']));
  const [assets, instruments, accounts, runs, obligations, changes, kits, benches, records, tags, digests] = await Promise.all([
    column('SELECT id AS v FROM asset LIMIT 200'),
    column('SELECT id AS v FROM instrument LIMIT 50'),
    column('SELECT id AS v FROM account'),
    column('SELECT id AS v FROM run ORDER BY id DESC LIMIT 50'),
    column('SELECT id AS v FROM obligation LIMIT 100'),
    column('SELECT id AS v FROM change LIMIT 50'),
    column('SELECT id AS v FROM kit LIMIT 50'),
    column('SELECT id AS v FROM plan_bench LIMIT 50'),
    column('SELECT number AS v FROM record LIMIT 50'),
    column('SELECT tag AS v FROM asset LIMIT 50'),
    column('SELECT digest AS v FROM procedure'),
  ]);
  const stages = procedures.flatMap((p) => p.stages);
  const keys = [...new Set(procedures.flatMap((p) => [...Object.keys(p.roles), ...Object.keys(p.channels)]))];
  const ids = [...assets.slice(0, 10), ...instruments, ...accounts, ...runs, ...obligations.slice(0, 10), ...changes, ...kits, ...benches];
  return {
    ids,
    digests,
    keys,
    assets,
    asset: assets,
    'assets:keys': keys,
    instruments,
    'instruments:keys': keys,
    account: accounts,
    run: runs,
    obligation: obligations,
    kit: kits,
    number: records.length > 0 ? records : ['GR-2026-00001'],
    secret: ['abc'],
    tag: tags,
    class: assetClasses.map((c) => c.id),
    unit: units.map((u) => u.code),
    procedure: procedures.map((p) => p.id),
    procedures: procedures.map((p) => p.id),
    ruleSet: procedures.flatMap((p) => p.ruleSets.map((r) => r.id)),
    stage: stages.map((s) => s.id),
    channel: [...new Set(procedures.flatMap((p) => Object.keys(p.channels)))],
    mark: ['start', 'blank', 'fill', 'settle'],
    follow: runs.map((r) => `${r}:0`),
    interval: ['P1Y', 'P6M', 'P9999Y', 'P1D'],
    life: ['P10Y', 'P9999Y'],
    '/api/assets/{id}:id': assets,
    '/api/assets/{id}/usual:id': assets,
    '/api/instruments/{id}:id': instruments,
    '/api/instruments/{id}/calibrations:id': instruments,
    '/api/instruments/{id}/zero:id': instruments,
    '/api/instruments/{id}/rig:id': instruments,
    '/api/runs/{id}:id': runs,
    '/api/runs/{id}/events:id': runs,
    '/api/runs/{id}/lease:id': runs,
    '/api/obligations/{id}:id': obligations,
    '/api/obligations/{id}/deferral:id': obligations,
    '/api/obligations/{id}/outside:id': obligations,
    '/api/changes/{id}/undo:id': changes.length > 0 ? changes : ids,
  };
}
