import { same, type InstrumentRow, type NewInstrument } from '@grellin/contract';
import { decimalIn, gaugeFacts, INSTRUMENT_CLASS, sameDimension, type GaugeFacts, type InstrumentCopy } from '@grellin/core';
import { and, asc, eq, getTableColumns, inArray, isNull, lte } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../../base';
import { account, asset, deviceHold, instrument, noteChange, type Queries, run, touched, type Transactional } from '../../db';
import { refreshStanding } from '../../standing';
import { deviceKey, parseAddress } from './devices';

/** An instrument with what the register knows of it. */
export type InstrumentEntity = typeof instrument.$inferSelect & { readonly tag: string; readonly title: string; readonly archivedAt: Date | null };

// The table has a column for every fact of a gauge.
same<Pick<InstrumentEntity, keyof GaugeFacts>, Required<GaugeFacts>>(true);

/** The register's row beside others that a question may hold. */
const item = alias(asset, 'instrument_item');
export const instrumentFacts = { ...getTableColumns(instrument), tag: item.tag, title: item.title, archivedAt: item.archivedAt };
/** Joins what `instrumentFacts` asks for. */
export const withItem = [item, eq(item.id, instrument.id)] as const;

const known = (db: Queries) =>
  db
    .select(instrumentFacts)
    .from(instrument)
    .innerJoin(...withItem);

/** An instrument as it is told of. @param busy the open run of each device that has one */
export function instrumentRow(i: InstrumentEntity, busy: ReadonlyMap<string, string> = new Map()): InstrumentRow {
  const address = i.address === null ? null : parseAddress(i.address);
  return {
    id: i.id,
    tag: i.tag,
    title: i.title,
    fittedTo: i.fittedTo,
    ...gaugeFacts(i),
    streams: address !== null,
    simulated: i.simulated,
    rig: i.rig,
    device: address && deviceKey(address),
    inUseBy: (address && busy.get(deviceKey(address))) ?? null,
  };
}

/** What a run keeps of its instrument. */
export function instrumentCopy(i: Omit<InstrumentEntity, 'archivedAt'>): InstrumentCopy {
  return { id: i.tag, fitted: i.fittedTo !== null, ...gaugeFacts(i) };
}

/** Those in use, by tag. */
export async function listInstruments(db: Queries): Promise<readonly InstrumentEntity[]> {
  return known(db).where(isNull(item.archivedAt)).orderBy(asc(item.tag));
}

/** Test instruments in use whose calibration stands no longer than to a day, the first to run out at the top. A fitted gauge is exempt. */
export async function fallingDue(db: Queries, until: string, most: number): Promise<readonly InstrumentEntity[]> {
  return known(db)
    .where(and(isNull(item.archivedAt), isNull(instrument.fittedTo), lte(instrument.calibrationDue, until)))
    .orderBy(asc(instrument.calibrationDue), asc(item.tag))
    .limit(most);
}

/** The gauges that are built into an asset. */
export async function fittedTo(db: Queries, assetId: string): Promise<readonly InstrumentEntity[]> {
  return known(db).where(eq(instrument.fittedTo, assetId)).orderBy(asc(item.tag));
}

/** Instruments by their ids; one that is not there is left out. */
export async function instrumentsById(db: Queries, ids: readonly string[]): Promise<ReadonlyMap<string, InstrumentEntity>> {
  if (ids.length === 0) return new Map();
  const found = await known(db).where(inArray(instrument.id, [...ids]));
  return new Map(found.map((i) => [i.id, i]));
}

/**
 * One instrument.
 * @throws Coded `instrument.unknown`
 */
export async function instrumentById(db: Queries, id: string): Promise<InstrumentEntity> {
  const [found] = await known(db).where(eq(instrument.id, id));
  if (!found) throw new Coded('instrument.unknown', 'There is no such instrument.');
  return found;
}

/** The open run that each device belongs to. A device has one clock and one rig: two open runs cannot share it. */
export async function busyDevices(db: Queries): Promise<ReadonlyMap<string, string>> {
  const held = await db.select().from(deviceHold);
  return new Map(held.map((h) => [h.device, h.run]));
}

/** Who works on the run that has a device. */
export async function holderOf(
  db: Queries,
  device: string,
): Promise<{ readonly run: string; readonly account: string; readonly name: string; readonly tag: string } | null> {
  const [found] = await db
    .select({ run: run.id, account: run.leaseBy, name: account.fullName, tag: asset.tag })
    .from(deviceHold)
    .innerJoin(run, eq(deviceHold.run, run.id))
    .innerJoin(account, eq(run.leaseBy, account.id))
    .innerJoin(asset, eq(run.asset, asset.id))
    .where(eq(deviceHold.device, device));
  return found ?? null;
}

async function refuseBusy(db: Queries, device: string): Promise<never> {
  const holder = await holderOf(db, device);
  const whose = holder ? `${holder.name} has it, with ${holder.tag}` : 'another run has it';
  throw new Coded('instrument.busy', `${device.split('/')[1] ?? device} is in use: ${whose}.`, { device, ...(holder ?? {}) });
}

/** Gives devices to a run until it closes. The database lets no second open run have one, whoever asks first. */
export async function holdDevices(tx: Queries, runId: string, devices: ReadonlySet<string>): Promise<void> {
  for (const device of [...devices].sort()) {
    const [made] = await tx.insert(deviceHold).values({ device, run: runId }).onConflictDoNothing().returning();
    if (!made) await refuseBusy(tx, device);
  }
}

/** Refuses whoever would work the rig of a run that somebody else has. */
export async function requireOwnRig(db: Queries, device: string, accountId: string): Promise<void> {
  const holder = await holderOf(db, device);
  if (holder && holder.account !== accountId) await refuseBusy(db, device);
}

/** The allow-list's name for the simulated instruments that the start command brings. */
const SIMULATED_ENTRY = 'sim';

/** What is known of an instrument before it is written: its own figures, and what the register shall know. */
export type InstrumentFacts = typeof instrument.$inferInsert & {
  readonly tag: string;
  readonly title: string;
  readonly serial?: string | undefined;
  readonly place?: string | undefined;
};

/** Writes instruments, each with its row of the register. A tag that is taken is left alone. @returns the rows of the register that were made */
export async function insertInstruments(tx: Queries, given: readonly InstrumentFacts[], now: Moment): Promise<readonly (typeof asset.$inferSelect)[]> {
  const made = await tx
    .insert(asset)
    .values(
      given.map(({ id, tag, title, serial = '–', place = 'Instruments' }) => ({
        id,
        tag,
        title,
        serial,
        place,
        class: INSTRUMENT_CLASS,
        practice: false,
        attributes: {},
        createdAt: now,
      })),
    )
    .onConflictDoNothing()
    .returning();
  const fresh = new Set(made.map((m) => m.id));
  const rows = given
    .filter((g) => fresh.has(g.id))
    .map(({ id, fittedTo: owner, address, simulated, rig, ...gauge }) => ({
      id,
      fittedTo: owner,
      ...gaugeFacts({ ...gauge, calibrationDue: gauge.calibrationDue ?? null }),
      address,
      simulated,
      rig,
    }));
  if (rows.length > 0) await tx.insert(instrument).values(rows);
  return made;
}

/** Adds an instrument to the register. One with a rig behind it is simulated, and says so wherever it is used. */
export function addInstrument(db: Transactional, given: NewInstrument, by: string, now: Moment): Promise<InstrumentEntity & { readonly change: string }> {
  const strange = given.address !== null && parseAddress(given.address) === null;
  if (strange) throw new Coded('instrument.unfit', 'An address is written entry/device/input.', { address: given.address ?? '' });
  if (given.calibratedOn != null && given.calibratedOn > now.day) throw new Coded('occasion.ahead', 'That day has not come yet.', { on: given.calibratedOn });
  if (given.calibratedOn != null && given.calibrationDue !== null && given.calibrationDue <= given.calibratedOn)
    throw new Coded('calibration.due', 'A calibration must be due after the day it was done.', { due: given.calibrationDue });
  const { unit } = given.low;
  const alike = [given.high, given.resolution, given.accuracy].every((q) => sameDimension(q.unit, unit));
  if (!alike || decimalIn(given.high, unit).lte(given.low.value))
    throw new Coded('instrument.unfit', 'Range, resolution and accuracy must be of one kind, and the range must rise.', { unit });
  // What comes from the simulated shelf is simulated, whether or not its rig is named.
  const simulated = given.rig !== null || (given.address !== null && parseAddress(given.address)?.entry === SIMULATED_ENTRY);
  return db.transaction(async (tx) => {
    const [owner] = given.fittedTo === null ? [] : await tx.select({ place: asset.place }).from(asset).where(eq(asset.id, given.fittedTo));
    if (given.fittedTo !== null && !owner) throw new Coded('asset.unknown', 'There is no such asset to fit it to.');
    // A gauge that is built in is where its item is.
    const [made] = await insertInstruments(tx, [{ ...given, place: given.place ?? owner?.place, id: v7(), simulated }], now);
    if (!made) throw new Coded('instrument.exists', `The tag ${given.tag} is taken.`);
    const change = await noteChange(tx, `${given.tag} added`, [touched('asset', made.id, null, made)], by, now);
    await refreshStanding(tx, [made.id]);
    return { ...(await instrumentById(tx, made.id)), change };
  });
}
