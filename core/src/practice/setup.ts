import type { Attributes, Channel, Id, Role } from '../procedure';
import type { Quantity, Unit } from '../quantity';
import type { Sensor, Sensors } from '../rig';
import type { AssetCopy, InstrumentCopy } from '../run';

/** An item, what it is tested with, and which input of the rig's logger feeds which channel: everything that a practice run needs besides its plan. */
export interface Setup {
  /** First letters of the simulated device's name. */
  readonly device: string;
  readonly assets: Readonly<Record<Role, AssetCopy>>;
  readonly instruments: Readonly<Record<Channel, InstrumentCopy>>;
  readonly sensors: Sensors;
  readonly inputs: Readonly<Record<Channel, Channel>>;
  readonly readByHand: Readonly<Record<Channel, Channel>>;
}

const q = (value: number, unit: Unit): Quantity => ({ value, unit });

interface Gauge {
  readonly input: Channel;
  readonly unit: Unit;
  readonly high: number;
  readonly low?: number;
  readonly resolution: number;
  readonly accuracy: number;
  readonly fitted?: true;
  readonly byHand?: true;
  readonly noise?: number;
}

interface Row {
  /** First letters of the simulated device that its readings come from; procedures done on one bench share it. */
  readonly device: string;
  readonly role: Role;
  readonly tag: Id;
  readonly attributes: Attributes;
  /** Attributes that a rule set chooses the item by. */
  readonly by?: Readonly<Record<Id, Attributes>>;
  readonly gauges: Readonly<Record<Channel, Gauge>>;
}

const inH2O = "[in_i'H2O]";
const psi = '[psi]';
const hpGauge = (input: Channel): Gauge => ({ input, unit: 'bar', high: 400, resolution: 10, accuracy: 6.4, fitted: true, noise: 0.2 });
const vapour = { tank: { input: 'p1', unit: inH2O, low: -1, high: 14, resolution: 0.01, accuracy: 0.02 } } as const;
const circuit = {
  pressure: { input: 'p1', unit: 'cm[H2O]', low: -5, high: 60, resolution: 0.1, accuracy: 0.3, noise: 0.03 },
  flow: { input: 'f1', unit: 'mL/min', high: 2000, resolution: 1, accuracy: 5, noise: 1 },
} as const;
const dash = (input: Channel): Gauge => ({ input, unit: psi, high: 200, resolution: 0.1, accuracy: 1, noise: 0.04 });
const rule = (input: Channel): Gauge => ({ input, unit: '[in_i]', high: 6, resolution: 0.0625, accuracy: 0.03125, byHand: true, noise: 0 });
const strokes = Object.fromEntries(['1l', '1r', '2l', '2r', '3l', '3r'].map((side) => [`stroke${side}`, rule(`s${side}`)]));
const vehicle = { reservoir: q(45, 'L'), axles: q(3, '1'), chamber1: '20', chamber2: '30', chamber3: '30', school: 'general' };
const tested = {
  single: { units: q(1, '1'), useAs: 'single' },
  combination: { units: q(2, '1'), useAs: 'combination' },
  'bus-a': { units: q(1, '1'), useAs: 'bus A' },
  'bus-b': { units: q(1, '1'), useAs: 'bus B' },
  'fire-apparatus': { units: q(1, '1'), useAs: 'fire apparatus' },
  'build-from-low': { units: q(1, '1'), useAs: 'build from low' },
};
const jacket = {
  pressure: { input: 'p1', unit: 'bar', high: 600, resolution: 0.1, accuracy: 1, noise: 0.02 },
  water: { input: 'w1', unit: 'mL', low: -1, high: 600, resolution: 0.1, accuracy: 0.05, noise: 0.02 },
} as const;
const cylinder = {
  testPressure: q(300, 'bar'),
  workingPressure: q(200, 'bar'),
  waterCapacity: q(12, 'L'),
  waterMass: q(12, 'kg'),
  certificateExpansion: q(45, 'mL'),
  rejectionElastic: q(60, 'mL'),
  mostExpansion: q(65, 'mL'),
  material: 'steel',
};
const tankFacts = {
  sinceDelivery: q(14, 'h'),
  sinceLiquidTest: q(40, 'h'),
  sinceFuelling: q(45, 'min'),
  ullage: q(4000, '[gal_us]'),
  capacity: q(10_000, '[gal_us]'),
};

/** By procedure. Invented items. */
const rows: Readonly<Record<Id, Row>> = {
  'ba.user-check': {
    device: 'BS',
    role: 'set',
    tag: 'BA-01',
    attributes: { filling: q(300, 'bar'), waterCapacity: q(6.8, 'L') },
    gauges: { cylinder: hpGauge('p1'), remote: hpGauge('p2') },
  },
  'ba.soap-survey': { device: 'BS', role: 'set', tag: 'BA-01', attributes: {}, gauges: {} },
  'ba.high-pressure': {
    device: 'HP',
    role: 'set',
    tag: 'BA-01',
    attributes: { filling: q(300, 'bar'), trappedVolume: q(30, 'mL') },
    gauges: { line: { input: 'p2', unit: 'bar', high: 400, resolution: 0.5, accuracy: 1.5, noise: 0.1 } },
  },
  'ba.facepiece': {
    device: 'FP',
    role: 'face',
    tag: 'FP-01',
    attributes: { volume: q(2.5, 'L') },
    gauges: { suction: { input: 'p1', unit: 'mbar', low: -40, high: 40, resolution: 0.01, accuracy: 0.05 } },
  },
  'suit.inflation': {
    device: 'PL',
    role: 'suit',
    tag: 'GS-02',
    attributes: { openFaced: false, exhaustValves: q(2, '1'), buildStandard: 'EN 943-1', volume: q(200, 'L') },
    gauges: { suit: { input: 'p1', unit: 'mbar', high: 50, resolution: 0.01, accuracy: 0.05 } },
  },
  'drysuit.survey': {
    device: 'DS',
    role: 'suit',
    tag: 'DS-01',
    attributes: { volume: q(80, 'L') },
    gauges: { suit: { input: 'p1', unit: 'mbar', low: -5, high: 60, resolution: 0.1, accuracy: 0.3 } },
  },
  'anaes.machine': { device: 'PA', role: 'machine', tag: 'AM-01', attributes: { outletCheckValve: false }, by: {}, gauges: {} },
  'anaes.circle': { device: 'CB', role: 'circuit', tag: 'AC-01', attributes: { layout: 'circle', volume: q(6, 'L') }, gauges: circuit },
  'anaes.t-piece': {
    device: 'CB',
    role: 'circuit',
    tag: 'AC-02',
    attributes: { layout: 'mapleson-f', volume: q(3, 'L'), reliefPressure: q(32, 'cm[H2O]') },
    gauges: circuit,
  },
  'anaes.mapleson-a': { device: 'CB', role: 'circuit', tag: 'AC-03', attributes: { layout: 'mapleson-a', volume: q(5, 'L') }, gauges: circuit },
  'anaes.coaxial-d': { device: 'CB', role: 'circuit', tag: 'AC-04', attributes: { layout: 'coaxial-d', volume: q(5, 'L') }, gauges: circuit },
  'brakes.applied-loss': {
    device: 'BP',
    role: 'vehicle',
    tag: 'TR-02',
    attributes: vehicle,
    by: tested,
    gauges: { primary: dash('p1'), secondary: dash('p2') },
  },
  'brakes.whole': {
    device: 'BP',
    role: 'vehicle',
    tag: 'TR-02',
    attributes: vehicle,
    by: tested,
    gauges: {
      primary: dash('p1'),
      secondary: dash('p2'),
      engine: { input: 'n1', unit: '/min', high: 3000, resolution: 10, accuracy: 20, fitted: true, noise: 4 },
      ...strokes,
    },
  },
  'cyl.water-jacket': { device: 'WJ', role: 'cylinder', tag: 'CY-01', attributes: cylinder, by: { composite: { material: 'composite' } }, gauges: jacket },
  'cyl.direct-expansion': {
    device: 'WJ',
    role: 'cylinder',
    tag: 'CY-02',
    attributes: cylinder,
    gauges: { ...jacket, temperature: { input: 't1', unit: 'Cel', low: 0, high: 50, resolution: 0.1, accuracy: 0.2, noise: 0.02 } },
  },
  'cyl.visual': { device: 'PA', role: 'cylinder', tag: 'CY-01', attributes: cylinder, gauges: {} },
  'tank.ibc': {
    device: 'IP',
    role: 'tank',
    tag: 'TK-01',
    attributes: { volume: q(1000, 'L') },
    gauges: { tank: { input: 'p1', unit: 'kPa', low: -1, high: 40, resolution: 0.01, accuracy: 0.05 } },
  },
  'tank.vapour-10': {
    device: 'VT',
    role: 'tank',
    tag: 'FT-01',
    attributes: { ...tankFacts, hold: q(10, 'min'), permittedLoss: q(0.5, inH2O), aboveGround: false },
    by: { 'above-ground': { aboveGround: true } },
    gauges: vapour,
  },
  'tank.vapour-2': { device: 'VT', role: 'tank', tag: 'FT-01', attributes: { ...tankFacts, nozzles: q(6, '1'), recovery: 'balance' }, gauges: vapour },
  'tank.cargo': {
    device: 'CT',
    role: 'tank',
    tag: 'CT-01',
    attributes: { capacity: q(9000, '[gal_us]'), shell: q(9000, '[gal_us]') },
    gauges: {
      tank: { input: 'p1', unit: inH2O, low: -10, high: 25, resolution: 0.01, accuracy: 0.05 },
      header: { input: 'p2', unit: inH2O, low: -10, high: 25, resolution: 0.01, accuracy: 0.05 },
    },
  },
  'valve.vent': {
    device: 'VS',
    role: 'valve',
    tag: 'PV-01',
    attributes: {},
    gauges: {
      pressure: { input: 'p1', unit: inH2O, low: -20, high: 20, resolution: 0.01, accuracy: 0.02, noise: 0.004 },
      flow: { input: 'f1', unit: 'mL/min', high: 500, resolution: 0.1, accuracy: 1, noise: 0.1 },
    },
  },
  'valve.relief': {
    device: 'RB',
    role: 'valve',
    tag: 'RV-01',
    attributes: { set: q(100, psi), orifice: q(0.11, '1'), seat: 'metal' },
    gauges: {
      pressure: { input: 'p1', unit: psi, low: -1, high: 200, resolution: 0.01, accuracy: 0.5, noise: 0.05 },
      bubbles: { input: 'b1', unit: '1', high: 1000, resolution: 1, accuracy: 1, byHand: true, noise: 0 },
    },
  },
  'store.half-life': {
    device: 'SP',
    role: 'store',
    tag: 'SS-01',
    attributes: { volume: q(100, 'm3') },
    gauges: { store: { input: 'p1', unit: 'Pa', low: -50, high: 500, resolution: 0.1, accuracy: 1 } },
  },
};

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
  };
}

const sensor = (g: Gauge): Sensor => ({ unit: g.unit, resolution: g.resolution, noise: g.noise ?? g.resolution * 0.8, zero: 0 });
const mapped = <T>(gauges: readonly (readonly [Channel, Gauge])[], make: (channel: Channel, g: Gauge) => readonly [string, T]): Record<string, T> =>
  Object.fromEntries(gauges.map(([channel, g]) => make(channel, g)));

/**
 * The practice setup of a procedure under a rule set.
 * @throws RangeError when there is none
 */
export function setupFor(procedure: Id, ruleSet: Id): Setup {
  const row = rows[procedure];
  if (!row) throw new RangeError(`there is no practice setup for ${procedure}`);
  const gauges = Object.entries(row.gauges);
  return {
    device: row.device,
    assets: { [row.role]: { id: row.tag, attributes: { ...row.attributes, ...row.by?.[ruleSet] } } },
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
export const deviceSetups: readonly DeviceSetup[] = [...new Set(Object.values(rows).map((r) => r.device))].map((device) => {
  const here = Object.entries(rows).filter(([, r]) => r.device === device);
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
