import { openingOf, tablesIn, itemsOf, type AlongBundle, type HandedIn, type HandIn } from '@grellin/contract';
import { emptyRun, fold, lastMoment, type EventOf } from '@grellin/core';
import { and, eq, gt, inArray, isNull, ne, or, sql } from 'drizzle-orm';
import { recallHandedIn } from '../calibration';
import { Coded, Moment } from '../base';
import { account, along, asset, record, run, runAsset, runInstrument, type Transaction } from '../db';
import { chain, closeRun, elapsedSince, GENESIS, goOn, hashOfSecret, type Holder, requireOwn, store } from '../run';
import { lockAssets, refreshStanding } from '../standing';
import type { TakingNeeds } from './take';

type AlongEntity = typeof along.$inferSelect;

/** What is known of a run that was opened away: what its device took along, and nothing that came later. */
function knownTo(bundle: AlongBundle, given: HandIn['given'], began: Moment) {
  const found = bundle.procedures.find((p) => p.document.id === given.procedure);
  if (!found)
    throw new Coded('authorisation.none', 'This device took nothing along that would let you carry out this procedure.', { procedure: given.procedure });
  if (found.authorisedUntil < began.day)
    throw new Coded('authorisation.ranOut', `Your authorisation for “${found.document.title}” had run out.`, { until: found.authorisedUntil });
  const { document, digest } = found;
  const items = bundle.assets;
  const gauges = bundle.instruments.map((i) => ({ ...i, archived: false }));
  const byRole = itemsOf(document, given, items);
  const attributes = Object.fromEntries(Object.entries(byRole).map(([role, a]) => [role, a.attributes]));
  const tables = tablesIn(bundle.tables, document, given.ruleSet, attributes, began.day);
  return { known: { document, digest, items, gauges, day: began.day, startedAt: began.toISOString(), offset: began.offset }, tables };
}

/** What others have done to the items of a run since its device took them along. */
async function meanwhile(tx: Transaction, own: string, taken: AlongEntity, items: readonly string[]): Promise<readonly string[]> {
  const others = await tx
    .select({ number: record.number, tag: asset.tag, word: record.word, by: account.fullName })
    .from(record)
    .innerJoin(runAsset, eq(runAsset.run, record.run))
    .innerJoin(asset, eq(asset.id, runAsset.asset))
    .innerJoin(account, eq(account.id, record.by))
    .innerJoin(run, eq(run.id, record.run))
    .where(
      and(inArray(runAsset.asset, [...items]), gt(record.sealedOrder, taken.openedOrder), ne(record.run, own), or(isNull(run.along), ne(run.along, taken.id))),
    )
    .orderBy(record.sealedOrder);
  const away = await tx.select({ tag: asset.tag }).from(asset).where(and(inArray(asset.id, [...items]), sql`${asset.archivedAt} IS NOT NULL`)); // prettier-ignore
  return [
    ...others.map((o) => `${o.tag} was tested by ${o.by} meanwhile: ${o.word}, ${o.number}. Both records stand.`),
    ...away.map((a) => `${a.tag} was put away meanwhile.`),
  ];
}

function requireTicket(found: AlongEntity | undefined, given: Pick<HandIn, 'secret'>, holder: Holder): AlongEntity {
  if (found?.secretHash !== hashOfSecret(given.secret)) throw new Coded('along.unknown', 'Nothing of the kind was taken along.');
  if (found.account !== holder.account || found.device !== holder.device)
    throw new Coded('along.notYours', 'Somebody else took this along, or another device did: it is handed in from there.');
  if (found.endedAt) throw new Coded('along.ended', 'The officer has ended this: nothing more is taken from it.', { at: found.endedAt.toISOString() });
  return found;
}

/** When a run began by the device's own word, no sooner than it was taken along and no later than there was time for it. */
function beganAt(claimed: string, taken: AlongEntity, took: number, now: Moment): Moment {
  const latest = now.getTime() - took;
  return new Moment(Math.max(taken.takenAt.getTime(), Math.min(Date.parse(claimed), latest)), taken.bundle.zone);
}

/**
 * Takes a run in that was carried out away, whole: its opening is made anew from what the device took along, every event is asked of the same rules, and its
 * times are held against the time that there was. It stands in the station's order where the device went away: what was found meanwhile it does not take back.
 * Handing it in again is harmless.
 * @throws Coded `along.unknown`, `along.notYours`, `along.ended`, `along.open`, `along.otherRun`, `event.ahead`, `run.refused`
 */
export async function handIn({ db, now: read, clocks }: TakingNeeds, id: string, given: HandIn, holder: Holder): Promise<HandedIn> {
  return db.transaction(async (tx) => {
    const [found] = await tx.select().from(along).where(eq(along.id, id)).for('update');
    const taken = requireTicket(found, given, holder);
    const now = read();
    const [before] = await tx.select({ along: run.along, number: record.number }).from(run).leftJoin(record, eq(record.run, run.id)).where(eq(run.id, given.run)); // prettier-ignore
    const items = Object.values(given.given.assets);
    if (before) {
      if (before.along !== taken.id || before.number === null) throw new Coded('along.otherRun', 'Another run has this id.');
      return { record: before.number, meanwhile: await meanwhile(tx, given.run, taken, items) };
    }
    const took = lastMoment(given.events);
    const hadMs = (await elapsedSince(tx, taken.clockSeen, taken.takenAt, clocks.read())) - taken.spentMs;
    const began = beganAt(given.startedAt, taken, took, now);
    if (began.getTime() > taken.until.getTime())
      throw new Coded('along.ended', 'It was begun after the time that it was taken along for.', { until: taken.until.toISOString() });
    const { known, tables } = knownTo(taken.bundle, given.given, began);
    const { main, body, plan, items: byRole } = openingOf(known, given.given, { tables, away: { along: taken.id, takenAt: taken.bundle.takenAt } });
    await requireOwn(tx, { ...given.given, obligation: undefined }, main.id);
    const opened: EventOf<'opened'> = { id: given.opening, source: 'server', n: 1, at: 0, ...body };
    const state = fold(emptyRun, opened);
    const assets = Object.entries(byRole);
    await lockAssets(tx, items);
    const reading = clocks.read();
    const [row] = await tx
      .insert(run)
      .values({
        id: given.run,
        procedure: plan.procedure.id,
        digest: known.digest,
        ruleSet: given.given.ruleSet,
        asset: main.id,
        obligation: null,
        retestOf: given.given.retestOf ?? null,
        along: taken.id,
        openedBy: holder.account,
        startedAt: began,
        openedOrder: taken.openedOrder,
        clock: body.clock,
        paced: false,
        lease: 1,
        leaseBy: holder.account,
        clockSeen: taken.clockSeen,
        seq: 0,
        head: GENESIS,
        closed: false,
        blocks: false,
      })
      .returning();
    if (!row) throw new Error('a run was inserted and is not there');
    await tx.insert(runAsset).values(assets.map(([role, a]) => ({ run: given.run, role, asset: a.id })));
    const gauges = Object.entries(given.given.instruments);
    if (gauges.length > 0)
      await tx.insert(runInstrument).values(gauges.map(([channel, instrument]) => ({ run: given.run, channel, instrument, zeroMs: null })));
    const head = await chain(tx, { run: given.run, seq: 0, hash: GENESIS }, opened, holder.account, 1, false, now);
    const entity = { ...row, seq: head.seq, head: head.hash };
    await tx.update(run).set({ seq: head.seq, head: head.hash }).where(eq(run.id, given.run));
    const request = {
      run: given.run,
      events: given.events,
      person: { ...holder, role: taken.bundle.account.role, lease: 1, secret: undefined },
      by: holder.account,
      now,
      clocks,
    };
    const c = goOn(entity, { plan, state, seq: 1 }, request, given.events, { lease: 1, late: false }, { atMs: Math.round(hadMs), stepMs: 0 });
    if (!c.judged || !c.closes) throw new Coded('along.open', 'A run is handed in when it is sealed or abandoned, not before.');
    // Its clock stopped when it was closed, however long the device stayed away.
    const become = await store(tx, entity, { ...c, clockMs: took }, reading, null, now.day);
    if (!become) throw new Error('a run that is new has moved');
    const doneOn = now.dayOf(new Date(began.getTime() + took));
    await closeRun(tx, { entity: { ...become, startedAt: began }, plan, state: c.state, result: c.judged, head: c.head, by: holder.account, now, doneOn });
    await tx
      .update(along)
      .set({ spentMs: taken.spentMs + took })
      .where(eq(along.id, taken.id));
    await recallHandedIn(tx, { run: given.run, asset: main.id, procedure: plan.procedure.id, startedAt: began }, taken.takenAt, now);
    await refreshStanding(tx, items);
    const [sealed] = await tx.select({ number: record.number }).from(record).where(eq(record.run, given.run));
    return { record: sealed?.number ?? '', meanwhile: await meanwhile(tx, given.run, taken, items) };
  });
}
