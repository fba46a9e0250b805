import type { CalibrationRow, InstrumentView, NewCalibration, RecalledRow } from '@grellin/contract';
import { decimalIn, findingInWords, headline, outOfTolerance, provesStill, recall, sameDimension, type CalibrationPoint, type Quantity } from '@grellin/core';
import { and, desc, eq, gte, inArray, lte, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../base';
import {
  account,
  asset,
  calibration,
  instrument,
  type Queries,
  recalled,
  record,
  run,
  runInstrument,
  type Transaction,
  type Transactional,
  zeroCheck,
} from '../db';
import { publishedById } from '../procedure';
import { refreshStanding } from '../standing';
import { instrumentById, type InstrumentEntity, instrumentRow } from '../register/instrument';
import { eventsAfter, planOf } from '../run';

const MOST_CHECKS = 20;

/** Why a calibration cannot be of this instrument; null when it can. */
function refusePoints(i: InstrumentEntity, points: readonly CalibrationPoint[]): void {
  for (const p of points)
    for (const q of [p.nominal, p.asFound, p.asLeft])
      if (!sameDimension(q.unit, i.low.unit)) throw new Coded('instrument.unfit', `${i.tag} does not measure in ${q.unit}.`, { unit: q.unit });
}

/** The largest error that a calibration found, per cent of the stated limits of error. */
function worstPercent(points: readonly CalibrationPoint[], accuracy: Quantity): number {
  const limit = decimalIn(accuracy, accuracy.unit).toNumber();
  const errors = points.map((p) => Math.abs(decimalIn(p.asFound, accuracy.unit).minus(decimalIn(p.nominal, accuracy.unit)).toNumber()));
  return limit === 0 ? 0 : Math.round((Math.max(...errors) / limit) * 100);
}

/** Whether a run of a round still proves its rig without the error that one of its instruments was found with. */
async function stillProved(tx: Transaction, id: string, instrumentId: string, points: readonly CalibrationPoint[]): Promise<boolean> {
  const read = await tx
    .select({ channel: runInstrument.channel })
    .from(runInstrument)
    .where(and(eq(runInstrument.run, id), eq(runInstrument.instrument, instrumentId)));
  const events = (await eventsAfter(tx, id, 0)).filter((e) => !e.late).map((e) => e.event);
  const [opened] = events;
  return opened !== undefined && provesStill(await planOf(tx, opened), events, new Set(read.map((r) => r.channel)), points);
}

/** A run that was read with an instrument. */
interface ReadWith {
  readonly run: string;
  readonly asset: string;
  readonly procedure: string;
}

/**
 * Judges one run again without the error that an instrument of it was found with.
 * @param channels what of the run was read with it
 */
async function recallRun(
  tx: Transaction,
  i: Pick<InstrumentEntity, 'id'>,
  found: { readonly id: string; readonly points: readonly CalibrationPoint[] },
  meta: ReadWith,
  channels: ReadonlySet<string>,
  now: Moment,
): Promise<void> {
  const { points } = found;
  const events = (await eventsAfter(tx, meta.run, 0)).filter((e) => !e.late).map((e) => e.event);
  const opened = events[0];
  if (!opened) return;
  const plan = await planOf(tx, opened);
  const { before, after, changes } = recall(plan, events, channels, points);
  const first = headline(plan, after.findings);
  // What another run proved of the rig was read with the same instruments: it is looked at again too.
  const lost = opened.kind === 'opened' && opened.proof !== undefined && !(await stillProved(tx, opened.proof.run, i.id, points));
  await tx.insert(recalled).values({
    calibration: found.id,
    run: meta.run,
    asset: meta.asset,
    procedure: meta.procedure,
    before: before.verdict,
    after: lost && after.verdict === 'pass' ? 'undecided' : after.verdict,
    // A pass that stands as a pass, a fail that stands: nothing has to be done for it.
    changes: (changes || lost) && before.verdict === 'pass',
    words: lost ? `The rig was proved in ${opened.proof.record}, and is proved no longer` : first ? findingInWords(first) : '',
    at: now,
  });
}

/**
 * The same for a run that is handed in after one of its instruments was found out of tolerance: it was read with it before that was known.
 * @param since from when on calibrations may have been found that the run does not know of
 */
export async function recallHandedIn(tx: Transaction, meta: ReadWith & { readonly startedAt: Date }, since: Date, now: Moment): Promise<void> {
  const read = await tx.select().from(runInstrument).where(eq(runInstrument.run, meta.run));
  for (const id of new Set(read.map((r) => r.instrument))) {
    const bad = await tx
      .select()
      .from(calibration)
      .where(
        and(eq(calibration.instrument, id), eq(calibration.outOfTolerance, true), gte(calibration.at, since), gte(calibration.on, now.dayOf(meta.startedAt))),
      );
    const channels = new Set(read.filter((r) => r.instrument === id).map((r) => r.channel));
    for (const c of bad) await recallRun(tx, { id }, c, meta, channels, now);
  }
}

/**
 * Judges every run again that was read with an instrument since its last good calibration, without the error that it was found with. Those whose verdict
 * changes block their item until a later test has passed; the sealed records stay as they are.
 */
async function recallSince(
  tx: Transaction,
  i: InstrumentEntity,
  calibrationId: string,
  points: readonly CalibrationPoint[],
  since: string | null,
  until: string,
  now: Moment,
): Promise<void> {
  const used = await tx
    .select({ run: run.id, asset: run.asset, procedure: run.procedure, channel: runInstrument.channel })
    .from(runInstrument)
    .innerJoin(run, eq(runInstrument.run, run.id))
    .innerJoin(record, eq(record.run, run.id))
    .where(and(eq(runInstrument.instrument, i.id), ...(since === null ? [] : [gte(run.startedAt, now.startOf(since))]), lte(run.startedAt, now.endOf(until))));
  const channels = new Map<string, Set<string>>();
  for (const u of used) channels.set(u.run, (channels.get(u.run) ?? new Set()).add(u.channel));
  for (const [id, of] of channels) {
    const meta = used.find((u) => u.run === id);
    if (meta) await recallRun(tx, i, { id: calibrationId, points }, meta, of, now);
  }
}

/**
 * Keeps a calibration. Where the instrument was found out of tolerance, every run since the last good one is judged again.
 * @throws Coded for a day to come, a due date that is not after it, or points in a unit that the instrument does not measure
 */
export function calibrate(
  db: Transactional,
  id: string,
  given: NewCalibration,
  by: string,
  now: Moment,
): Promise<{ readonly id: string; readonly outOfTolerance: boolean; readonly recalled: number; readonly changed: number }> {
  const today = now.day;
  if (given.on > today) throw new Coded('occasion.ahead', 'That day has not come yet.', { on: given.on });
  if (given.due <= given.on) throw new Coded('calibration.due', 'A calibration must be due after the day it was done.', { due: given.due });
  return db.transaction(async (tx) => {
    await tx.select({ id: instrument.id }).from(instrument).where(eq(instrument.id, id)).for('update');
    const i = await instrumentById(tx, id);
    refusePoints(i, given.points);
    const bad = outOfTolerance(given.points, i.accuracy);
    const others = await tx.select({ on: calibration.on, points: calibration.points }).from(calibration).where(eq(calibration.instrument, id)).orderBy(desc(calibration.on)); // prettier-ignore
    // Its readings were good from the newest calibration before this one that left it within its limits.
    const good = others.find((o) => o.on < given.on && !outOfTolerance(o.points, i.accuracy, 'asLeft'));
    const newest = others.every((o) => o.on <= given.on);
    const row = { id: v7(), instrument: id, on: given.on, due: given.due, laboratory: given.by, certificate: given.certificate, points: given.points, outOfTolerance: bad, by, at: now }; // prettier-ignore
    await tx.insert(calibration).values(row);
    const leftBad = outOfTolerance(given.points, i.accuracy, 'asLeft');
    // What was left out of tolerance is not in calibration, whatever its certificate says.
    if (newest) await tx.update(instrument).set({ calibrationDue: leftBad ? given.on : given.due, calibratedOn: given.on }).where(eq(instrument.id, id)); // prettier-ignore
    if (bad) await recallSince(tx, i, row.id, given.points, good?.on ?? null, given.on, now);
    const found = bad ? await tx.select().from(recalled).where(eq(recalled.calibration, row.id)) : [];
    await refreshStanding(tx, [...new Set([id, ...found.map((f) => f.asset)])]);
    return { id: row.id, outOfTolerance: bad, recalled: found.length, changed: found.filter((f) => f.changes).length };
  });
}

/** Keeps what an instrument showed at nothing. */
export async function checkZero(db: Queries, id: string, shows: Quantity, note: string, by: string, now: Moment): Promise<{ readonly within: boolean }> {
  const i = await instrumentById(db, id);
  if (!sameDimension(shows.unit, i.low.unit)) throw new Coded('instrument.unfit', `${i.tag} does not measure in ${shows.unit}.`, { unit: shows.unit });
  await db.insert(zeroCheck).values({ id: v7(), instrument: id, shows, note, by, at: now });
  return { within: decimalIn(shows, i.accuracy.unit).abs().lte(i.accuracy.value) };
}

async function recalledOf(db: Queries, calibrations: readonly string[], now: Moment): Promise<ReadonlyMap<string, readonly RecalledRow[]>> {
  if (calibrations.length === 0) return new Map();
  const later = sql<boolean>`EXISTS (SELECT 1 FROM record l JOIN run lr ON lr.id = l.run JOIN run_asset la ON la.run = l.run WHERE la.asset = ${recalled.asset}
    AND l.procedure = ${recalled.procedure} AND l.counts AND l.verdict = 'pass' AND lr.opened_order > ${record.sealedOrder}
    AND NOT EXISTS (SELECT 1 FROM recalled doubtful WHERE doubtful.run = l.run AND doubtful.changes))`;
  const found = await db
    .select({ row: recalled, record: record.number, on: record.sealedAt, tag: asset.tag, settled: later })
    .from(recalled)
    .innerJoin(record, eq(record.run, recalled.run))
    .innerJoin(asset, eq(asset.id, recalled.asset))
    .where(inArray(recalled.calibration, [...calibrations]))
    .orderBy(desc(recalled.changes), desc(record.sealedAt));
  const by = new Map<string, RecalledRow[]>();
  for (const f of found) {
    const { calibration: of, run: id, asset: item, procedure, before, after, changes, words } = f.row;
    by.set(of, [
      ...(by.get(of) ?? []),
      {
        run: id,
        record: f.record,
        asset: item,
        tag: f.tag,
        procedureTitle: publishedById(procedure).document.title,
        on: now.dayOf(f.on),
        before,
        after,
        changes,
        words,
        settled: f.settled,
      },
    ]);
  }
  return by;
}

/** An instrument with its calibrations, its zero checks, and what was recalled for it. */
export async function instrumentView(db: Queries, id: string, now: Moment): Promise<InstrumentView> {
  const i = await instrumentById(db, id);
  const done = await db
    .select({ row: calibration, by: account.fullName })
    .from(calibration)
    .innerJoin(account, eq(calibration.by, account.id))
    .where(eq(calibration.instrument, id))
    .orderBy(desc(calibration.on), desc(calibration.at));
  const back = await recalledOf(
    db,
    done.map((d) => d.row.id),
    now,
  );
  const zeros = await db
    .select({ shows: zeroCheck.shows, note: zeroCheck.note, at: zeroCheck.at, by: account.fullName })
    .from(zeroCheck)
    .innerJoin(account, eq(zeroCheck.by, account.id))
    .where(eq(zeroCheck.instrument, id))
    .orderBy(desc(zeroCheck.at))
    .limit(MOST_CHECKS);
  const [counted] = await db.select({ n: sql<number>`count(DISTINCT ${runInstrument.run})::int` }).from(runInstrument).where(eq(runInstrument.instrument, id)); // prettier-ignore
  return {
    ...instrumentRow(i),
    calibrations: done.map(({ row, by }): CalibrationRow => {
      const { id: of, on, due, laboratory, certificate, points, outOfTolerance: bad, at } = row;
      return {
        id: of,
        on,
        due,
        laboratory,
        certificate,
        points,
        outOfTolerance: bad,
        by,
        at: at.toISOString(),
        worstPercent: worstPercent(row.points, i.accuracy),
        recalled: back.get(row.id) ?? [],
      };
    }),
    zeroChecks: zeros.map((z) => ({ ...z, at: z.at.toISOString() })),
    runs: counted?.n ?? 0,
  };
}
