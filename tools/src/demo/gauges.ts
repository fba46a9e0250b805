import { addDays, type InstrumentCopy } from '@grellin/core';
import { setupFor, rigFor } from '@grellin/core/practice';
import type { asset, instrument } from '@grellin/server';
import { v7 } from 'uuid';
import { deviceKinds } from '../logger/device';
import { benchTitles, eyes, instruments, type DemoInstrument } from './instruments';
import type { DemoAsset, DemoOwed } from './items';

export type AssetEntity = Omit<typeof asset.$inferSelect, 'search'>;
export type InstrumentEntity = typeof instrument.$inferSelect & { readonly tag: string; readonly title: string; readonly place?: string };

function instrumentRow(i: DemoInstrument, today: string): InstrumentEntity {
  const [low, high, unit] = i.range;
  return {
    id: v7(),
    tag: i.tag,
    title: i.title,
    fittedTo: null,
    low: { value: low, unit },
    high: { value: high, unit },
    resolution: { value: i.resolution, unit },
    accuracy: { value: i.accuracy, unit },
    correlation: i.correlation,
    // Once a year.
    calibratedOn: i.calibrationInDays === null ? null : addDays(today, i.calibrationInDays - 365),
    calibrationDue: i.calibrationInDays === null ? null : addDays(today, i.calibrationInDays),
    address: i.address,
    simulated: i.address !== null,
    rig: i.rig,
  };
}

/** The simulated instruments of the benches: one device of each kind, one instrument an input. A rig that sends nothing is an instrument too. */
function benchInstruments(today: string): InstrumentEntity[] {
  return deviceKinds.flatMap(({ device, rig, sent }) => {
    const title = benchTitles[device];
    // The first brake loggers have only the two gauges.
    const name = device === 'BP' ? 'BP-03' : `${device}-01`;
    if (title === undefined) return [];
    const row = (tag: string, of: string, input: string, copy: Pick<InstrumentCopy, 'low' | 'high' | 'resolution' | 'accuracy'>): InstrumentEntity => ({
      ...copy,
      id: v7(),
      tag,
      title: of,
      fittedTo: null,
      correlation: 0.95,
      calibratedOn: addDays(today, -100),
      calibrationDue: addDays(today, 200),
      address: `sim/${name}/${input}`,
      simulated: true,
      rig,
    });
    const rows = Object.entries(sent).map(([channel, { input, instrument: copy }]) => row(`${name} ${channel}`, `${title}: ${channel}`, input, copy));
    const one = { value: 1, unit: '1' };
    return rows.length > 0 ? rows : [row(name, title, 'none', { low: { value: 0, unit: '1' }, high: one, resolution: one, accuracy: one })];
  });
}

/** The gauges that belong to an item itself, as its practice has them: read through the simulated device of its kind, and exempt from calibration dates. */
function ownGauges(owner: AssetEntity, owes: DemoOwed): InstrumentEntity[] {
  const setup = setupFor(owes.procedure, owes.ruleSet);
  return Object.entries(setup.instruments)
    .filter(([, copy]) => copy.fitted)
    .map(([channel, copy]) => ({
      id: v7(),
      tag: `${owner.tag} ${channel}`,
      title: `${owner.tag}, its own gauge: ${channel}`,
      place: owner.place,
      fittedTo: owner.id,
      low: copy.low,
      high: copy.high,
      resolution: copy.resolution,
      accuracy: copy.accuracy,
      correlation: copy.correlation,
      calibratedOn: null,
      calibrationDue: null,
      address: `sim/${setup.device}-01/${setup.inputs[channel] ?? ''}`,
      simulated: true,
      rig: rigFor(owes.procedure) ?? null,
    }));
}

/** The two dash gauges of a vehicle: class 1.6 (EN 837-1), read to half a graduation. */
function dashGauges(vehicle: AssetEntity): InstrumentEntity[] {
  return (['primary', 'secondary'] as const).map((name) => ({
    id: v7(),
    tag: `${vehicle.tag} ${name}`,
    title: `Dash gauge, ${name}, 0–150 psi`,
    place: vehicle.place,
    fittedTo: vehicle.id,
    low: { value: 0, unit: '[psi]' },
    high: { value: 150, unit: '[psi]' },
    resolution: { value: 1, unit: '[psi]' },
    accuracy: { value: 2.4, unit: '[psi]' },
    correlation: 0.9,
    calibratedOn: null,
    calibrationDue: null,
    address: null,
    simulated: false,
    rig: null,
  }));
}

/** Every gauge of the station: on the shelf, on the benches, and built into its items. */
export function gaugesOf(testable: readonly DemoAsset[], rows: ReadonlyMap<string, AssetEntity>, today: string): readonly InstrumentEntity[] {
  return [
    ...[...instruments, ...eyes].map((i) => instrumentRow(i, today)),
    ...benchInstruments(today),
    ...[...rows.values()].filter((a) => ['truck', 'bus', 'fire-apparatus'].includes(a.class)).flatMap(dashGauges),
    ...testable
      .filter((a) => a.class === 'breathing-set')
      .flatMap((a) => {
        const owner = rows.get(a.tag);
        return owner ? ownGauges(owner, a.owes) : [];
      }),
  ];
}
