import type { AssetRow, LastResult, Readiness } from '@grellin/contract';
import { daysBetween } from '@grellin/core';
import { sql, type SQL } from 'drizzle-orm';
import type { Queries } from '../db/database';
import { Coded } from '../errors';

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

/** Days ahead that count as due. */
export const DUE_SOON_DAYS = 14;

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

function dueWords(days: number): string {
  if (days < 0) return days === -1 ? 'one day late' : `${-days} days late`;
  if (days === 0) return 'due today';
  return days === 1 ? 'due tomorrow' : `due in ${days} days`;
}

function readinessOf(f: Found, today: string): { readonly readiness: Readiness; readonly why: string } {
  if (f.blocked_by !== null) return { readiness: 'blocked', why: f.blocked_by };
  if (f.open_fail) return { readiness: 'blocked', why: 'failed in a run that is still open' };
  if (f.due === null) return { readiness: f.last_number === null ? 'neverTested' : 'ready', why: 'nothing owed' };
  const days = daysBetween(today, f.due);
  return { readiness: days < 0 ? 'overdue' : days <= DUE_SOON_DAYS ? 'due' : 'ready', why: dueWords(days) };
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
