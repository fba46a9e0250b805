import { addDays, lifeEnd, firstDue, usualRule, usualChecksOf } from '@grellin/core';
import { practiceTimes } from '@grellin/core/practice';
import {
  asset,
  authoriseForAll,
  calibrate,
  createAccount,
  insertInstruments,
  kit,
  kitAsset,
  kitNeed,
  obligation,
  occasion,
  planBench,
  publishCatalogue,
  publishTable,
  refreshMissing,
  refreshStanding,
  type Transaction,
  knownItem,
  Moment,
} from '@grellin/server';
import { v7 } from 'uuid';
import { gaugesOf, type AssetEntity, type InstrumentEntity } from './gauges';
import { pastRun, soundPast, type PastContext } from './past';
import { filledBefore, HISTORY, past, usedYesterday } from './happenings';
import { assets, others, rest, trailers, type DemoAsset } from './items';
import { kits } from './kits';
import { people } from './people';
import { planBenches } from './planBenches';

const DAY_MS = 86_400_000;

/** Cylinders and suits have a life; everything has a year in which it was made. */
const lives: Readonly<Record<string, string>> = { cylinder: 'P30Y', 'gas-tight-suit': 'P12Y', 'dry-suit': 'P12Y' };

function assetRow(a: Omit<DemoAsset, 'owes' | 'also'>, now: Moment, i: number): AssetEntity {
  const madeOn = `${String(now.getUTCFullYear() - 4 - (i % 6))}-${String(1 + (i % 12)).padStart(2, '0')}`;
  const life = lives[a.class] ?? null;
  return {
    ...knownItem({ tag: a.tag, serial: a.serial, class: a.class, title: a.title, place: a.place, practice: true, attributes: a.attributes, madeOn, life }),
    id: v7(),
    attributes: a.attributes,
    lifeEnds: lifeEnd(madeOn, life),
    archivedAt: null,
    revision: 1,
    createdAt: now,
  };
}

/** Loads Skarvoy Sound Station into an empty database. */
export async function loadDemo(tx: Transaction, now: Moment): Promise<void> {
  const today = now.day;
  await publishCatalogue(tx, now);
  const accounts = new Map<string, string>();
  for (const p of people) accounts.set(p.name, (await createAccount(tx, p, true, now)).id);
  const tester = accounts.get('tester') ?? '';
  const officer = accounts.get('officer') ?? '';
  await authoriseForAll(tx, officer, addDays(today, 300), 'RT 1', officer, now);
  await authoriseForAll(tx, tester, addDays(today, 45), 'OS 7', officer, now);

  const testable = [...assets, ...others, ...rest];
  const rows = new Map([...testable, ...trailers].map((a, i) => [a.tag, assetRow(a, now, i)]));
  await tx.insert(asset).values([...rows.values()]);
  const gauges = gaugesOf(testable, rows, today);
  await insertInstruments(tx, gauges, now);

  for (const a of [...testable, ...trailers]) {
    const owner = rows.get(a.tag);
    if (!owner) continue;
    for (const { dueInDays, triggers = [], never = false, ...owes } of [a.owes, ...(a.also ?? [])]) {
      const due = addDays(today, dueInDays);
      const filled = usualChecksOf(a.class).find((u) => u.procedure === owes.procedure)?.filled ?? null;
      const anchor = previous(due, owes.interval);
      const done = never ? { lastDone: null, lastDoneAt: null } : { lastDone: anchor, lastDoneAt: now.endOf(anchor) };
      await tx.insert(obligation).values({ id: v7(), asset: owner.id, ...owes, triggers: [...triggers], filled, anchor, due, ...done });
    }
  }
  await publishTable(tx, practiceTimes, false, officer, new Moment(now.getTime() - 400 * DAY_MS, now.zone));
  const told = new Set(past.map((s) => s.tag));
  const everyday = testable.flatMap((a, i) => {
    // What is late or was never tested has its last run further back, or none.
    const runs = told.has(a.tag) || a.owes.never ? 0 : i < assets.length ? HISTORY.runs : 1;
    return soundPast(a.tag, a.owes, runs);
  });
  const context: PastContext = { tx, by: tester, now, gauges };
  for (const [i, story] of [...everyday, ...past].sort((a, b) => b.daysAgo - a.daysAgo).entries()) {
    const tested = rows.get(story.tag);
    const demo = testable.find((a) => a.tag === story.tag);
    if (!tested || !demo) throw new Error(`the demo has no ${story.tag}`);
    await pastRun(context, story, tested, demo.owes, 11 + i * 7);
  }
  await afterwards(tx, rows, gauges, officer, now);
  await refreshMissing(tx);
  await refreshStanding(
    tx,
    [...rows.values()].map((r) => r.id),
  );
}

/** What happened besides the tests: a suit was mended, a set went out, an instrument was found bad, kits were put together. */
async function afterwards(
  tx: Transaction,
  rows: ReadonlyMap<string, AssetEntity>,
  gauges: readonly InstrumentEntity[],
  officer: string,
  now: Moment,
): Promise<void> {
  const idOf = (tag: string): string => rows.get(tag)?.id ?? '';
  const ago = (days: number): Moment => new Moment(now.getTime() - days * DAY_MS, now.zone);
  await tx
    .insert(occasion)
    .values([
      { id: v7(), asset: idOf('GS-05'), kind: 'repaired', at: ago(15), note: 'seat of the exhaust valve renewed', by: officer },
      ...usedYesterday.map((tag) => ({ id: v7(), asset: idOf(tag), kind: 'used' as const, at: ago(0.4), note: 'exercise in the smoke house', by: officer })),
      ...filledBefore.map((tag) => ({ id: v7(), asset: idOf(tag), kind: 'filled' as const, at: ago(40), note: '', by: officer })),
    ]);
  await tx.insert(planBench).values(planBenches.map((b) => ({ ...b, id: v7(), archivedAt: null })));
  for (const k of kits) {
    const id = v7();
    await tx.insert(kit).values({ id, name: k.name, archivedAt: null });
    await tx.insert(kitNeed).values(k.needs.map((n) => ({ ...n, kit: id })));
    await tx.insert(kitAsset).values(k.tags.map((tag) => ({ kit: id, asset: idOf(tag) })));
  }
  const today = now.day;
  const mbar = (value: number) => ({ value, unit: 'mbar' });
  const point = (nominal: number, found: number) => ({ nominal: mbar(nominal), asFound: mbar(found), asLeft: mbar(nominal) });
  const byTag = (tag: string): string => gauges.find((g) => g.tag === tag)?.id ?? '';
  const house = { by: 'Calibration room, mainland', certificate: '' };
  await calibrate(
    tx,
    byTag('PL-04'),
    { ...house, certificate: 'K-2207', on: addDays(today, -210), due: addDays(today, 155), points: [0, 10, 20, 40].map((v) => point(v, v)) },
    officer,
    ago(210),
  );
  await calibrate(
    tx,
    byTag('PL-01'),
    {
      ...house,
      certificate: 'K-2208',
      on: addDays(today, -155),
      due: addDays(today, 210),
      points: [0, 10, 20, 40].map((v) => point(v, v + (v > 0 ? 0.02 : 0))),
    },
    officer,
    ago(155),
  );
  // Its middle had slipped: what it showed at the end of a hold was too much.
  await calibrate(
    tx,
    byTag('PL-04'),
    {
      ...house,
      certificate: 'K-2301',
      on: addDays(today, -4),
      due: addDays(today, 361),
      points: [point(0, 0), point(8, 9.1), point(9.9, 9.95), point(20, 20.02), point(40, 40.03)],
    },
    officer,
    ago(4),
  );
}

/** The day one interval before a due date, from which an anchored rule leads to it. */
function previous(due: string, interval: string): string {
  const days = { P1M: 31, P1W: 7, P3M: 92, P6M: 184, P1Y: 366, P30M: 915, P3Y: 1096, P5Y: 1827 }[interval] ?? 31;
  let anchor = addDays(due, -days);
  while ((firstDue({ ...usualRule, interval, counting: 'anchored', anchor }) ?? due) < due) anchor = addDays(anchor, 1);
  return anchor;
}
