import { attributeFlaws, type AssetRow, type LastResult, type NewAsset } from '@grellin/contract';
import { readiness, type Ready } from '@grellin/core';
import { sql, type SQL } from 'drizzle-orm';
import type { Queries } from '../db/database';
import { v7 } from 'uuid';
import { Coded } from '../errors';
import { asset } from './table';

interface Found extends Record<string, unknown> {
  id: string;
  tag: string;
  serial: string;
  class: string;
  title: string;
  place: string;
  practice: boolean;
  attributes: AssetRow['attributes'];
  due: string | null;
  blocked_by: string | null;
  open_fail: boolean;
  last_number: string | null;
  last_verdict: LastResult['verdict'] | null;
  last_word: string | null;
  last_allowance: number | null;
  last_on: string | null;
}

/**
 * Assets with their readiness, in one statement: the newest record of each, the newest record that blocks with no later pass of the same
 * procedure, an open run that has already failed, and the earliest due date. A run blocks every asset that took part in it.
 */
function assetsSql(where: SQL): SQL {
  return sql`
    SELECT a.id, a.tag, a.serial, a.class, a.title, a.place, a.practice, a.attributes,
      (SELECT min(o.due)::text FROM obligation o WHERE o.asset = a.id) AS due,
      (SELECT r.summary FROM record r JOIN run_asset ra ON ra.run = r.run
        WHERE ra.asset = a.id AND r.blocks AND r.counts AND NOT EXISTS (
          SELECT 1 FROM record later JOIN run_asset la ON la.run = later.run
          WHERE la.asset = a.id AND later.procedure = r.procedure AND later.counts AND later.verdict = 'pass' AND later.sealed_at > r.sealed_at)
        ORDER BY r.sealed_at DESC LIMIT 1) AS blocked_by,
      EXISTS (SELECT 1 FROM run JOIN run_asset ra ON ra.run = run.id WHERE ra.asset = a.id AND NOT run.closed AND run.blocks) AS open_fail,
      l.number AS last_number, l.verdict AS last_verdict, l.word AS last_word, l.allowance_percent AS last_allowance, l.sealed_at::date::text AS last_on
    FROM asset a
    LEFT JOIN LATERAL (
      SELECT r.* FROM record r JOIN run_asset ra ON ra.run = r.run WHERE ra.asset = a.id ORDER BY r.sealed_at DESC LIMIT 1
    ) l ON true
    WHERE ${where}
    ORDER BY a.tag
    LIMIT 1000`;
}

function readinessOf(f: Found, today: string): Ready {
  return readiness(
    {
      blockedBy: f.blocked_by ?? (f.open_fail ? 'failed in a run that is still open' : null),
      lifeEnds: null,
      tested: f.last_number !== null,
      owes: f.due === null ? [] : [{ dueOn: f.due, owedNow: false }],
    },
    today,
  );
}

function rowOf(f: Found, today: string): AssetRow {
  const last: LastResult | null =
    f.last_number === null
      ? null
      : { record: f.last_number, verdict: f.last_verdict ?? 'void', word: f.last_word ?? '', allowancePercent: f.last_allowance, on: f.last_on ?? '' };
  const { id, tag, serial, title, place, practice, attributes, due } = f;
  return { id, tag, serial, class: f.class, title, place, practice, attributes, due, last, ...readinessOf(f, today) };
}

export async function listAssets(db: Queries, today: string): Promise<readonly AssetRow[]> {
  return (await db.execute<Found>(assetsSql(sql`true`))).rows.map((f) => rowOf(f, today));
}

export async function assetById(db: Queries, id: string, today: string): Promise<AssetRow> {
  const [found] = (await db.execute<Found>(assetsSql(sql`a.id = ${id}`))).rows;
  if (!found) throw new Coded('asset.unknown', 'There is no such asset.');
  return rowOf(found, today);
}

/** Adds an asset. Its attributes are those of its class, each of its kind. */
export async function addAsset(db: Queries, given: NewAsset, now: Date): Promise<AssetRow> {
  const [flaw] = attributeFlaws(given.class, given.attributes);
  if (flaw !== undefined) throw new Coded('asset.attributeWrong', `${flaw} does not belong to ${given.class}, or is of another kind.`, { attribute: flaw });
  const [made] = await db
    .insert(asset)
    .values({ ...given, id: v7(), createdAt: now })
    .onConflictDoNothing()
    .returning({ id: asset.id });
  if (!made) throw new Coded('asset.exists', `There is an asset ${given.tag}.`);
  return assetById(db, made.id, now.toISOString().slice(0, 10));
}
