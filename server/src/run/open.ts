import { itemsOf, openingOf, type CarriedAlong, type KnownGauge, type KnownItem, type NewRun } from '@grellin/contract';
import { isLook, type Attributes, type EventOf, type InstrumentCopy, type Plan, type RunProof } from '@grellin/core';
import { eq, inArray } from 'drizzle-orm';
import { v7 } from 'uuid';
import { type Clocks, Coded, type Moment } from '../base';
import { asset, type Database, NEVER, obligation, type Queries, run, runAsset, runInstrument, standing } from '../db';
import { tablesFor } from '../document';
import { publishedById } from '../procedure';
import { carriedBy, lockAssets, readinessOf, refuseCondemned } from '../standing';
import { requireAuthorised } from '../account';
import { deviceKey, type Devices, fittedTo, holdDevices, instrumentById, type InstrumentEntity, instrumentsById, parseAddress } from '../register/instrument';
import { chain } from './chain';
import { asSeen } from './clock';
import { giveLease, type Holder } from './lease';
import { GENESIS } from './seal';

type AssetEntity = typeof asset.$inferSelect;

/** What goes along with an item, with how that stands on a day. */
export async function carriesOf(db: Queries, assetId: string, today: string): Promise<readonly CarriedAlong[]> {
  const carried = await carriedBy(db, assetId);
  return Promise.all(
    carried.map(async ({ attribute, tag, id }): Promise<CarriedAlong> => {
      const [stands] = id === null ? [] : await db.select().from(standing).where(eq(standing.asset, id));
      if (!stands) return { attribute, tag, stands: null };
      return { attribute, tag, stands: { ...readinessOf(stands, today), until: [stands.usableUntil, stands.lifeEnds ?? NEVER].sort()[0] ?? NEVER } };
    }),
  );
}

async function itemsFor(db: Queries, given: NewRun['assets'], today: string): Promise<readonly KnownItem[]> {
  const ids = Object.values(given);
  const rows: readonly AssetEntity[] = ids.length === 0 ? [] : await db.select().from(asset).where(inArray(asset.id, ids));
  return Promise.all(rows.map(async (a) => ({ ...a, archived: a.archivedAt !== null, carries: await carriesOf(db, a.id, today) })));
}

/** The gauges that were chosen, and those that the items themselves have. */
async function gaugesFor(db: Queries, given: NewRun, chosen: ReadonlyMap<string, InstrumentEntity>): Promise<readonly KnownGauge[]> {
  const fitted = await Promise.all(Object.values(given.assets).map((id) => fittedTo(db, id)));
  return [...chosen.values(), ...fitted.flat()].map((i) => ({ ...i, archived: i.archivedAt !== null }));
}

/** What a run says that it settles and repeats must be of the same item and procedure. */
export async function requireOwn(db: Queries, given: NewRun, mainAsset: string): Promise<void> {
  if (given.obligation !== undefined) {
    const [owed] = await db.select().from(obligation).where(eq(obligation.id, given.obligation));
    if (!owed || owed.archivedAt) throw new Coded('obligation.unknown', 'Nothing of the kind is owed.');
    if (owed.asset !== mainAsset || owed.procedure !== given.procedure)
      throw new Coded('obligation.another', 'That is owed by another item, or another procedure.');
  }
  if (given.retestOf !== undefined) {
    const [before] = await db.select().from(run).where(eq(run.id, given.retestOf));
    if (!before) throw new Coded('run.unknown', 'There is no such run to test again.');
    if (before.asset !== mainAsset) throw new Coded('run.retestOther', 'That run tested another item.');
    if (before.procedure !== given.procedure)
      throw new Coded('run.retestOther', 'That run tested it by another procedure: a pass of this one would not release it.');
  }
}

/** The rig of a run that reads nothing from it. */
async function rigOf(db: Queries, id: string | undefined): Promise<InstrumentEntity | null> {
  if (id === undefined) return null;
  const found = await instrumentById(db, id);
  if (!found.simulated) throw new Coded('instrument.notSimulated', `${found.tag} has no simulated rig.`);
  return found;
}

/** What every streaming device's clock shows now: the run's zero. */
async function zeros(devices: Devices, instruments: Readonly<Record<string, InstrumentEntity>>): Promise<ReadonlyMap<string, number>> {
  const found = new Map<string, number>();
  for (const i of Object.values(instruments)) {
    const address = parseAddress(i.address ?? '');
    if (address && !found.has(deviceKey(address))) {
      const hello = await devices.greet(address);
      found.set(deviceKey(address), hello.clockMs);
    }
  }
  return found;
}

/** What opening a run works with. */
export interface OpeningNeeds {
  readonly db: Database;
  readonly now: () => Moment;
  readonly clocks: Clocks;
  readonly devices: Devices;
}

/** The round that a run is opened in, and how it finds what was proved of the rig: asked with the plan that has its proving stages. */
export interface InRound {
  readonly id: string;
  readonly proofFor: (plan: Plan, instruments: Readonly<Record<string, InstrumentCopy>>, day: string) => Promise<RunProof | null>;
}

/**
 * Opens a run: copies what is known of its assets and instruments into its first event, so that it can be judged again for ever.
 * @returns the run's id, and the secret of its first lease
 * @throws Coded when a class, figure or instrument does not fit, is missing or is in use
 */
export async function openRun(
  { db, now: read, clocks, devices }: OpeningNeeds,
  given: NewRun,
  holder: Holder,
  inRound?: InRound,
): Promise<{ readonly id: string; readonly secret: string }> {
  const by = holder.account;
  const now = read();
  const { digest, document } = publishedById(given.procedure);
  await requireAuthorised(db, by, document.id, now.day);
  const items = await itemsFor(db, given.assets, now.day);
  const byRole = itemsOf(document, given, items);
  const attributes: Record<string, Attributes> = Object.fromEntries(Object.entries(byRole).map(([role, a]) => [role, a.attributes]));
  const reading = clocks.read();
  const tables = await tablesFor(db, document, given.ruleSet, attributes, now.day);
  const byId = await instrumentsById(db, Object.values(given.instruments));
  const gauges = await gaugesFor(db, given, byId);
  const rig = await rigOf(db, given.rig);
  const known = { document, digest, items, gauges, day: now.day, startedAt: now.toISOString(), offset: now.offset };
  const more = { tables, rig: rig !== null };
  const whole = openingOf(known, given, more);
  const chosen = Object.entries(given.instruments).flatMap(([channel, id]) => {
    const found = byId.get(id);
    return found ? [[channel, found] as const] : [];
  });
  const instruments = Object.fromEntries(chosen);
  const zero = await zeros(devices, instruments);
  const proof = (await inRound?.proofFor(whole.plan, whole.body.instruments, now.day)) ?? undefined;
  const { main, body } = proof ? openingOf(known, given, { ...more, proof }) : whole;
  const { clock } = body;
  const opened: EventOf<'opened'> = { id: v7(), source: 'server', n: 1, at: 0, ...body };
  await requireOwn(db, given, main.id);

  return db.transaction(async (tx) => {
    // Openings and sealings of an asset come one after the other: their order is the order of the sequence.
    const took = Object.values(byRole).map((a) => a.id);
    await lockAssets(tx, took);
    if (!isLook(document)) for (const id of took) await refuseCondemned(tx, id);
    const rigAt = parseAddress(rig?.address ?? '');
    const id = v7();
    await tx.insert(run).values({
      id,
      procedure: document.id,
      digest,
      ruleSet: given.ruleSet,
      asset: main.id,
      obligation: given.obligation ?? null,
      retestOf: given.retestOf ?? null,
      round: inRound?.id ?? null,
      openedBy: by,
      startedAt: now,
      clock,
      paced: zero.size > 0,
      rig: rig?.id ?? null,
      lease: 1,
      leaseBy: by,
      clockSeen: asSeen(reading),
      seq: 0,
      head: GENESIS,
      closed: false,
      blocks: false,
    });
    await tx.insert(runAsset).values(Object.entries(byRole).map(([role, a]) => ({ run: id, role, asset: a.id })));
    const bound = Object.entries(instruments).map(([channel, i]) => {
      const address = parseAddress(i.address ?? '');
      return { run: id, channel, instrument: i.id, zeroMs: address ? (zero.get(deviceKey(address)) ?? null) : null };
    });
    if (bound.length > 0) await tx.insert(runInstrument).values(bound);
    await holdDevices(tx, id, new Set([...zero.keys(), ...(rigAt ? [deviceKey(rigAt)] : [])]));
    const secret = await giveLease(tx, id, 1, holder, now);
    const head = await chain(tx, { run: id, seq: 0, hash: GENESIS }, opened, by, 1, false, now);
    await tx.update(run).set({ seq: head.seq, head: head.hash }).where(eq(run.id, id));
    return { id, secret };
  });
}
