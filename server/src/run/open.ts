import { attributeFlaws, type NewRun } from '@grellin/contract';
import {
  assetClass,
  channelsOf,
  makePlan,
  may,
  refusalInWords,
  emptyRun,
  isLook,
  sameDimension,
  unitRow,
  type AssetCopy,
  type Attributes,
  type EventOf,
  type InstrumentCopy,
  type Lists,
  type Plan,
  type PlanResult,
  type RunProof,
  type Procedure,
  type Quantity,
  mainRole,
  usable,
} from '@grellin/core';
import { eq, inArray } from 'drizzle-orm';
import { v7 } from 'uuid';
import { type Clocks, Coded, type Moment } from '../base';
import { asset, type Database, NEVER, obligation, type Queries, run, runAsset, runInstrument, standing } from '../db';
import { tablesFor } from '../document';
import { publishedById } from '../procedure';
import { refuseOdd } from '../register/item';
import { carriedBy, lockAssets, readinessOf, refuseCondemned } from '../standing';
import { requireAuthorised } from '../account';
import {
  deviceKey,
  type Devices,
  fittedTo,
  holdDevices,
  instrumentById,
  instrumentCopy,
  type InstrumentEntity,
  instrumentsById,
  parseAddress,
} from '../register/instrument';
import { chain } from './chain';
import { asSeen } from './clock';
import { giveLease, type Holder } from './lease';
import { GENESIS } from './seal';

type AssetEntity = typeof asset.$inferSelect;

async function assetsFor(
  db: Queries,
  document: Procedure,
  given: NewRun['assets'],
  figures: NonNullable<NewRun['figures']>,
  sure: readonly string[],
): Promise<Readonly<Record<string, AssetEntity>>> {
  const ids = Object.values(given);
  if (new Set(ids).size < ids.length) throw new Coded('run.itemTwice', 'One item is named twice: each has a place of its own.');
  const rows = ids.length === 0 ? [] : await db.select().from(asset).where(inArray(asset.id, ids));
  return Object.fromEntries(
    Object.entries(given).map(([role, id]) => {
      const found = rows.find((r) => r.id === id);
      if (!found) throw new Coded('asset.unknown', 'There is no such asset.', { role });
      const row = document.roles[role];
      if (found.archivedAt) throw new Coded('asset.putAway', `${found.tag} is put away: take it back into use first.`, { role });
      if (!row?.classes.includes(found.class)) throw new Coded('run.classWrong', `${found.tag} cannot be the ${role} of ${document.title}.`, { role });
      return [role, withFigures(found, figures[role] ?? {}, sure)];
    }),
  );
}

/** The attributes of an asset with the day's figures in their place. Only what its class asks for anew may be given. */
function withFigures(found: AssetEntity, given: Readonly<Record<string, Quantity>>, sure: readonly string[]): AssetEntity {
  const rows = assetClass(found.class)?.attributes ?? [];
  for (const [name, value] of Object.entries(given)) {
    const row = rows.find((r) => r.id === name);
    const fits = row?.asked === true && row.type.kind === 'quantity' && unitRow(value.unit)?.dimension === row.type.dimension;
    if (!fits) throw new Coded('run.figureUnknown', `${found.tag} is not asked for a figure ${name} of this kind.`, { figure: name });
  }
  refuseOdd(found.class, given, sure);
  return { ...found, attributes: { ...found.attributes, ...given } };
}

/**
 * What goes along with an item, where its procedure asks whether that is in date: its own dates answer, and nobody's word does.
 * @throws Coded `asset.carriedUnfit`
 */
async function carriedWith(db: Queries, document: Procedure, role: string, owner: AssetEntity, today: string): Promise<Pick<AssetCopy, 'carries'>> {
  const told = JSON.stringify(document.stages);
  const found = (await carriedBy(db, owner.id)).filter((c) => told.includes(`"unless":"${role}.${c.attribute}"`));
  const carries = [];
  for (const c of found) {
    const [stands] = c.id === null ? [] : await db.select().from(standing).where(eq(standing.asset, c.id));
    if (!stands) throw new Coded('asset.carriedUnfit', `${c.tag}, which ${owner.tag} carries, is not in the register.`, { tag: c.tag });
    const ready = readinessOf(stands, today);
    if (!usable(ready.readiness)) throw new Coded('asset.carriedUnfit', `${c.tag}, which ${owner.tag} carries, may not be used: ${ready.why}.`, { tag: c.tag });
    carries.push({ id: c.tag, until: [stands.usableUntil, stands.lifeEnds ?? NEVER].sort()[0] ?? NEVER });
  }
  return carries.length > 0 ? { carries } : {};
}

/** What is told of the day, thing by thing: of lists that the procedure has, each figure one of its part's and of its kind. */
function listsFor(document: Procedure, given: Lists, sure: readonly string[]): Lists {
  for (const [list, things] of Object.entries(given)) {
    const row = document.lists?.[list];
    if (!row) throw new Coded('run.listUnknown', `${document.title} has no list ${list}.`, { list });
    for (const [k, thing] of things.entries()) {
      const [flaw] = attributeFlaws(row.part, thing);
      const which = `${row.one} ${String(k + 1)}`;
      if (flaw !== undefined) throw new Coded('run.figureUnknown', `${which} is not asked for a figure ${flaw} of this kind.`, { list, figure: flaw });
      refuseOdd(row.part, thing, sure);
    }
  }
  return given;
}

/** What a run says that it settles and repeats must be of the same item and procedure. */
async function requireOwn(db: Queries, given: NewRun, mainAsset: string): Promise<void> {
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

function instrumentFor(
  channel: string,
  document: Procedure,
  assets: Readonly<Record<string, AssetEntity>>,
  found: InstrumentEntity | undefined,
): InstrumentEntity {
  const row = document.channels[channel];
  if (!row) throw new Coded('run.refused', `There is no channel ${channel}.`, { channel });
  if (!found) throw new Coded('instrument.unknown', 'There is no such instrument.', { channel });
  if (!sameDimension(found.low.unit, row.unit)) throw new Coded('instrument.unfit', `${found.tag} does not measure what ${row.title} needs.`, { channel });
  if (found.archivedAt !== null) throw new Coded('instrument.unfit', `${found.tag} is put away.`, { channel });
  if (found.fittedTo !== null && found.fittedTo !== assets[row.role]?.id)
    throw new Coded('instrument.unfit', `${found.tag} is fitted to another item.`, { channel });
  return found;
}

/** A gauge that the item itself has is read: who leaves it out would have only said what it shows. */
async function refuseLeftOut(
  db: Queries,
  plan: Plan,
  assets: Readonly<Record<string, AssetEntity>>,
  chosen: Readonly<Record<string, InstrumentEntity>>,
): Promise<void> {
  const taken = new Set(Object.values(chosen).map((i) => i.id));
  const unread = [...new Set(plan.stages.flatMap(channelsOf))].filter((c) => !chosen[c]);
  for (const channel of unread) {
    const row = plan.procedure.channels[channel];
    const owner = assets[row?.role ?? ''];
    const own = owner ? await fittedTo(db, owner.id) : [];
    const left = own.find((i) => i.archivedAt === null && !taken.has(i.id) && sameDimension(i.low.unit, row?.unit ?? ''));
    if (left)
      throw new Coded('instrument.leftOut', `${left.tag} is fitted to the item: ${row?.title ?? channel} is read on it.`, { channel, instrument: left.tag });
  }
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

/** Why no plan can be made, in words; the code stands before its values. */
function planOrRefusal(made: PlanResult): Plan {
  if (made.ok) return made.plan;
  const { code, values } = made.refusal;
  if (code === 'plan.tableMissing') throw new Coded('run.planRefused', `No edition of the table “${values['table'] ?? ''}” is kept that holds today.`, values);
  throw new Coded('run.planRefused', `The run cannot be opened: ${code} ${Object.values(values).join(' ')}`, values);
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
  const assets = await assetsFor(db, document, given.assets, given.figures ?? {}, given.sure ?? []);
  const attributes: Record<string, Attributes> = Object.fromEntries(Object.entries(assets).map(([role, a]) => [role, a.attributes]));
  const reading = clocks.read();
  const lists = listsFor(document, given.lists ?? {}, given.sure ?? []);
  const tables = await tablesFor(db, document, given.ruleSet, attributes, now.day);
  const whole = planOrRefusal(makePlan(document, digest, given.ruleSet, attributes, now.day, { lists, tables }));
  const byId = await instrumentsById(db, Object.values(given.instruments));
  const instruments = Object.fromEntries(
    Object.entries(given.instruments).map(([channel, id]) => [channel, instrumentFor(channel, document, assets, byId.get(id))]),
  );

  await refuseLeftOut(db, whole, assets, instruments);

  const rig = await rigOf(db, given.rig);
  const zero = await zeros(devices, instruments);
  const copies: Record<string, AssetCopy> = {};
  for (const [role, a] of Object.entries(assets))
    copies[role] = { id: a.tag, attributes: a.attributes, ...(await carriedWith(db, document, role, a, now.day)) };
  const instrumentCopies: Record<string, InstrumentCopy> = Object.fromEntries(Object.entries(instruments).map(([channel, i]) => [channel, instrumentCopy(i)]));
  const proof = (await inRound?.proofFor(whole, instrumentCopies, now.day)) ?? undefined;
  const plan = proof ? planOrRefusal(makePlan(document, digest, given.ruleSet, attributes, now.day, { lists, tables, proof })) : whole;
  const clock = rig || Object.values(instruments).some((i) => i.simulated) ? 'simulated' : 'live';
  const opened: EventOf<'opened'> = {
    id: v7(),
    source: 'server',
    n: 1,
    at: 0,
    kind: 'opened',
    startedAt: now.toISOString(),
    offset: now.offset,
    procedure: digest,
    ruleSet: given.ruleSet,
    assets: copies,
    instruments: instrumentCopies,
    ...(given.lists ? { lists } : {}),
    ...(Object.keys(tables).length > 0 ? { tables } : {}),
    ...(proof ? { proof } : {}),
    clock,
    ...(given.retestOf === undefined ? {} : { retestOf: given.retestOf }),
  };
  const refusal = may(plan, emptyRun, opened);
  if (refusal) throw new Coded('run.refused', refusalInWords(refusal), { ...refusal.values, refusal: refusal.code });
  const main = assets[mainRole(document)];
  if (!main) throw new Coded('asset.unknown', 'The run has no asset.', { role: mainRole(document) });
  await requireOwn(db, given, main.id);

  return db.transaction(async (tx) => {
    // Openings and sealings of an asset come one after the other: their order is the order of the sequence.
    const took = Object.values(assets).map((a) => a.id);
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
    await tx.insert(runAsset).values(Object.entries(assets).map(([role, a]) => ({ run: id, role, asset: a.id })));
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
