import type { InstrumentRow } from '@grellin/contract';
import type { InstrumentCopy } from '@grellin/core';
import { and, asc, eq, inArray, isNotNull } from 'drizzle-orm';
import type { Queries } from '../db/database';
import { Coded } from '../errors';
import { deviceKey, parseAddress } from './devices';
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
  return new Map(
    open.flatMap((o) => {
      const address = parseAddress(o.address ?? '');
      return address ? [[deviceKey(address), o.run] as const] : [];
    }),
  );
}
