import { channelsUsed, procedureById, type Channel, type Id, type Lists, type Role, type Tables } from '../procedure';
import type { Quantity, Unit } from '../quantity';
import type { Sensor, Sensors } from '../rig';
import type { AssetCopy, InstrumentCopy } from '../run';
import { benches, type Gauge } from './bench';

/** An item, what it is tested with, and which input of the rig's logger feeds which channel: everything that a practice run needs besides its plan. */
export interface Setup {
  /** First letters of the simulated device's name. */
  readonly device: string;
  readonly assets: Readonly<Record<Role, AssetCopy>>;
  readonly lists?: Lists;
  /** The kept tables that it goes by. */
  readonly tables?: Tables;
  readonly instruments: Readonly<Record<Channel, InstrumentCopy>>;
  readonly sensors: Sensors;
  readonly inputs: Readonly<Record<Channel, Channel>>;
  readonly readByHand: Readonly<Record<Channel, Channel>>;
}

const q = (value: number, unit: Unit): Quantity => ({ value, unit });

function instrument(channel: Channel, g: Gauge): InstrumentCopy {
  return {
    id: `${channel.toUpperCase()}-01`,
    fitted: g.fitted === true,
    low: q(g.low ?? 0, g.unit),
    high: q(g.high, g.unit),
    resolution: q(g.resolution, g.unit),
    accuracy: q(g.accuracy, g.unit),
    correlation: 0.95,
    calibrationDue: g.fitted ? null : '2027-06-30',
    ...(g.calibratedOn === undefined ? {} : { calibratedOn: g.calibratedOn }),
  };
}

const sensor = (g: Gauge): Sensor => ({ unit: g.unit, resolution: g.resolution, noise: g.noise ?? g.resolution * 0.8, zero: 0 });
const mapped = <T>(gauges: readonly (readonly [Channel, Gauge])[], make: (channel: Channel, g: Gauge) => readonly [string, T]): Record<string, T> =>
  Object.fromEntries(gauges.map(([channel, g]) => make(channel, g)));

/**
 * The practice setup of a procedure under a rule set.
 * @throws RangeError when there is none
 * @example setupFor('suit.inflation', 'mbar-16.5').device // 'PL'
 */
export function setupFor(procedure: Id, ruleSet: Id): Setup {
  const row = benches[procedure];
  if (!row) throw new RangeError(`there is no practice setup for ${procedure}`);
  const document = procedureById(procedure);
  const rules = document?.ruleSets.find((r) => r.id === ruleSet);
  const used = document && rules && channelsUsed(document, rules);
  // What a rule set does not read is not set up for it.
  const gauges = Object.entries(row.gauges).filter(([channel]) => !used || used.includes(channel));
  return {
    device: row.device,
    assets: { [row.role]: { id: row.tag, attributes: { ...row.attributes, ...row.by?.[ruleSet] } } },
    ...(row.lists ? { lists: row.lists } : {}),
    ...(row.tables ? { tables: row.tables } : {}),
    instruments: mapped(gauges, (channel, g) => [channel, instrument(channel, g)]),
    sensors: mapped(gauges, (_, g) => [g.input, sensor(g)]),
    inputs: mapped(
      gauges.filter(([, g]) => !g.byHand),
      (channel, g) => [channel, g.input],
    ),
    readByHand: mapped(
      gauges.filter(([, g]) => g.byHand),
      (channel, g) => [channel, g.input],
    ),
  };
}

/** A kind of simulated device: everything that the procedures of its bench read from it. */
export interface DeviceSetup {
  readonly device: string;
  /** One of the procedures that are practised on it. */
  readonly procedure: Id;
  readonly sensors: Sensors;
  /** Inputs that send lines, by channel, each with the instrument that reads it. */
  readonly sent: Readonly<Record<Channel, { readonly input: Channel; readonly instrument: InstrumentCopy }>>;
}

/** Every kind of simulated device. */
export const deviceSetups: readonly DeviceSetup[] = [...new Set(Object.values(benches).map((r) => r.device))].map((device) => {
  const here = Object.entries(benches).filter(([, r]) => r.device === device);
  const gauges = here.flatMap(([, r]) => Object.entries(r.gauges));
  return {
    device,
    procedure: here[0]?.[0] ?? '',
    sensors: mapped(gauges, (_, g) => [g.input, sensor(g)]),
    sent: mapped(
      gauges.filter(([, g]) => !g.byHand),
      (channel, g) => [channel, { input: g.input, instrument: instrument(channel, g) }],
    ),
  };
});
