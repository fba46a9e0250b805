import type { InstrumentRow, NewInstrument } from '@grellin/contract';
import { decimalIn, sameDimension, type InstrumentCopy } from '@grellin/core';
import { and, asc, eq, inArray, isNotNull } from 'drizzle-orm';
import { v7 } from 'uuid';
import type { Queries } from '../db/database';
import { Coded } from '../errors';
import { deviceKey, parseAddress } from './devices';
import { asset } from '../asset/table';
import { run, runInstrument } from '../run/table';
import { instrument } from './table';

export type InstrumentEntity = typeof instrument.$inferSelect;

export function instrumentRow(i: InstrumentEntity, busy: ReadonlyMap<string, string> = new Map()): InstrumentRow {
  const address = i.address === null ? null : parseAddress(i.address);
  return {
    id: i.id,
    tag: i.tag,
    title: i.title,
    fittedTo: i.fittedTo,
    low: i.low,
    high: i.high,
    resolution: i.resolution,
    accuracy: i.accuracy,
    correlation: i.correlation,
    calibrationDue: i.calibrationDue,
    streams: address !== null,
    simulated: i.simulated,
    rig: i.rig,
    device: address && deviceKey(address),
    inUseBy: (address && busy.get(deviceKey(address))) ?? null,
  };
}

/** What a run keeps of its instrument. */
export function instrumentCopy(i: InstrumentEntity): InstrumentCopy {
  return {
    id: i.tag,
    fitted: i.fittedTo !== null,
    low: i.low,
    high: i.high,
    resolution: i.resolution,
    accuracy: i.accuracy,
    correlation: i.correlation,
    calibrationDue: i.calibrationDue,
  };
}

export async function listInstruments(db: Queries): Promise<readonly InstrumentEntity[]> {
  return db.select().from(instrument).orderBy(asc(instrument.tag));
}

export async function instrumentsById(db: Queries, ids: readonly string[]): Promise<ReadonlyMap<string, InstrumentEntity>> {
  if (ids.length === 0) return new Map();
  const found = await db
    .select()
    .from(instrument)
    .where(inArray(instrument.id, [...ids]));
  return new Map(found.map((i) => [i.id, i]));
}

export async function instrumentById(db: Queries, id: string): Promise<InstrumentEntity> {
  const [found] = await db.select().from(instrument).where(eq(instrument.id, id));
  if (!found) throw new Coded('instrument.unknown', 'There is no such instrument.');
  return found;
}

/** The open run that each device is bound to. A device has one clock and one rig: two open runs cannot share it. */
export async function busyDevices(db: Queries): Promise<ReadonlyMap<string, string>> {
  const open = await db
    .select({ address: instrument.address, run: run.id })
    .from(runInstrument)
    .innerJoin(run, eq(runInstrument.run, run.id))
    .innerJoin(instrument, eq(runInstrument.instrument, instrument.id))
    .where(and(eq(run.closed, false), isNotNull(instrument.address)));
  // A rig that nothing is read from is worked by one run alone, too.
  const rigs = await db
    .select({ address: instrument.address, run: run.id })
    .from(run)
    .innerJoin(instrument, eq(run.rig, instrument.id))
    .where(and(eq(run.closed, false), isNotNull(instrument.address)));
  return new Map(
    [...open, ...rigs].flatMap((o) => {
      const address = parseAddress(o.address ?? '');
      return address ? [[deviceKey(address), o.run] as const] : [];
    }),
  );
}

/** The allow-list's name for the simulated instruments that the start command brings. */
const SIMULATED_ENTRY = 'sim';

/** Adds an instrument to the shelf. One with a rig behind it is simulated, and says so wherever it is used. */
export async function addInstrument(db: Queries, given: NewInstrument): Promise<InstrumentEntity> {
  const strange = given.address !== null && parseAddress(given.address) === null;
  if (strange) throw new Coded('instrument.unfit', 'An address is written entry/device/input.', { address: given.address ?? '' });
  const { unit } = given.low;
  const alike = [given.high, given.resolution, given.accuracy].every((q) => sameDimension(q.unit, unit));
  if (!alike || decimalIn(given.high, unit).lte(given.low.value))
    throw new Coded('instrument.unfit', 'Range, resolution and accuracy must be of one kind, and the range must rise.', { unit });
  if (given.fittedTo !== null) {
    const [item] = await db.select({ id: asset.id }).from(asset).where(eq(asset.id, given.fittedTo));
    if (!item) throw new Coded('asset.unknown', 'There is no such asset to fit it to.');
  }
  // What comes from the simulated shelf is simulated, whether or not its rig is named.
  const simulated = given.rig !== null || (given.address !== null && parseAddress(given.address)?.entry === SIMULATED_ENTRY);
  const [made] = await db
    .insert(instrument)
    .values({ ...given, id: v7(), simulated })
    .onConflictDoNothing()
    .returning();
  if (!made) throw new Coded('instrument.exists', `There is an instrument ${given.tag}.`);
  return made;
}
