import { assetClass, type Attributes, type Quantity, type UseTrigger, type Counting } from '@grellin/core';
import { setupFor } from '@grellin/core/practice';

/**
 * Skarvoy Sound Station: an invented research station on a cold, remote coast that must test all its own equipment. Every person, make and
 * serial here is invented. Dates are days from today.
 */

export interface DemoOwed {
  readonly procedure: string;
  readonly ruleSet: string;
  readonly interval: string;
  readonly counting: Counting;
  readonly dueInDays: number;
  /** It came new and has never been tested; everything else was passed when the interval before began. */
  readonly never?: true;
  readonly triggers?: readonly UseTrigger[];
}

export interface DemoAsset {
  readonly tag: string;
  readonly serial: string;
  readonly class: string;
  readonly title: string;
  readonly place: string;
  readonly attributes: Attributes;
  readonly owes: DemoOwed;
  /** What it owes besides. */
  readonly also?: readonly DemoOwed[];
}

const number = (value: number): Quantity => ({ value, unit: '1' });
const litres = (value: number): Quantity => ({ value, unit: 'L' });

function suit(n: number, size: string, place: string, buildStandard: string, ruleSet: string, dueInDays: number, openFaced = false): DemoAsset {
  return {
    tag: `GS-${String(n).padStart(2, '0')}`,
    serial: `${4400 + n * 13}-${'ABCDE'[n % 5] ?? 'A'}`,
    class: 'gas-tight-suit',
    title: `Gas-tight suit, ${size}${openFaced ? ', open-faced' : ''}`,
    place,
    attributes: {
      openFaced,
      exhaustValves: number(n % 3 === 0 ? 3 : 2),
      adapters: number(n % 2 === 0 ? 2 : 1),
      adapterKind: n % 2 === 0 ? 'bayonet, blue ring' : 'screw, 40 mm',
      buildStandard,
      volume: litres(200),
    },
    owes: { procedure: 'suit.inflation', ruleSet, interval: 'P1Y', counting: 'rolling', dueInDays },
  };
}

function vehicle(tag: string, kind: string, title: string, useAs: string, ruleSet: string, units: number, interval: string, dueInDays: number): DemoAsset {
  return {
    tag,
    serial: `SV-${tag.replace('-', '')}-${units}07`,
    class: kind,
    title,
    place: kind === 'fire-apparatus' ? 'Fire bay' : 'Vehicle hall',
    attributes: {
      units: number(units),
      reservoir: litres(45),
      useAs,
      axles: number(3),
      lowAirLamp: true,
      lowAirBuzzer: true,
      secondLamp: false,
      lowAirMessage: false,
      ebs: kind !== 'truck',
      school: 'general',
    },
    owes: { procedure: 'brakes.applied-loss', ruleSet, interval, counting: interval === 'P1W' ? 'rolling' : 'anchored', dueInDays },
  };
}

const owed = (procedure: string, ruleSet: string, interval: string, dueInDays: number): DemoOwed => ({
  procedure,
  ruleSet,
  interval,
  counting: 'rolling',
  dueInDays,
});

export const assets: readonly DemoAsset[] = [
  suit(1, 'large', 'Fire store', 'ASTM F1052', 'in-h2o-4', 5),
  suit(2, 'medium', 'Fire store', 'EN 943-1', 'mbar-16.5', 12),
  suit(3, 'large', 'Fire store', 'NFPA 1991', 'mm-h2o-100', -35),
  suit(4, 'small', 'Fire store', 'ASTM F1052', 'in-h2o-4', 40),
  suit(5, 'large', 'Gas store', 'EN 943-1', 'mbar-16.5', 30),
  suit(6, 'medium', 'Gas store', 'ASTM F1052', 'in-h2o-4', 3),
  suit(7, 'large', 'Gas store', 'NFPA 1991', 'mm-h2o-100', 7),
  suit(8, 'medium', 'Fuel farm', '29 CFR 1910.120', 'in-h2o-2', 9),
  suit(9, 'large', 'Fuel farm', '29 CFR 1910.120', 'in-h2o-2', 2, true),
  suit(10, 'small', 'Clinic', 'EN 943-1', 'mbar-16.5', 120),
  suit(11, 'large', 'Fire store', 'ASTM F1052', 'in-h2o-4', 60),
  suit(12, 'medium', 'Fire store', 'NFPA 1991', 'mm-h2o-100', 88),
  vehicle('TR-01', 'truck', 'Crawler 1, prime mover', 'combination', 'combination', 2, 'P1M', 18),
  {
    ...vehicle('TR-02', 'truck', 'Stores truck', 'single', 'single', 1, 'P1M', 2),
    also: [owed('brakes.strokes', 'most', 'P1M', 22), owed('brakes.in-cab', 'general', 'P1W', 5)],
  },
  vehicle('TR-03', 'truck', 'Fuel bowser', 'single', 'single', 1, 'P1M', 11),
  vehicle('TR-04', 'truck', 'Crawler 2, prime mover', 'combination', 'combination', 3, 'P1M', 20),
  vehicle('TR-05', 'truck', 'Snow plough', 'build from low', 'build-from-low', 1, 'P1M', 6),
  vehicle('TR-06', 'truck', 'Tipper', 'build from low', 'build-from-low', 2, 'P1M', 25),
  vehicle('BU-01', 'bus', 'Crew bus', 'bus A', 'bus-a', 1, 'P1M', -3),
  vehicle('BU-02', 'bus', 'Airstrip bus', 'bus B', 'bus-b', 1, 'P1M', 9),
  vehicle('FA-01', 'fire-apparatus', 'Foam tender', 'fire apparatus', 'fire-apparatus', 1, 'P1W', 1),
  vehicle('FA-02', 'fire-apparatus', 'Rescue tender', 'fire apparatus', 'fire-apparatus', 1, 'P1W', 4),
];

/** An item like the one that the practice of its procedure is done on. */
function practised(tag: string, serial: string, kind: string, title: string, place: string, owes: DemoOwed, ...also: readonly DemoOwed[]): DemoAsset {
  const copies = [owes, ...also].map((o) => Object.values(setupFor(o.procedure, o.ruleSet).assets)[0]?.attributes ?? {});
  // Figures of the day are asked for when a run is opened; the register does not keep them.
  const asked = new Set((assetClass(kind)?.attributes ?? []).filter((a) => a.asked).map((a) => a.id));
  const attributes = Object.fromEntries(Object.entries(Object.assign({}, ...copies) as Attributes).filter(([name]) => !asked.has(name)));
  return { tag, serial, class: kind, title, place, attributes, owes, also };
}

const two = (n: number): string => String(n).padStart(2, '0');

const air = (n: number, dueInDays: number): DemoAsset =>
  practised(
    `BA-${two(n)}`,
    `SB-${6100 + n * 7}`,
    'breathing-set',
    'Breathing set, 300 bar',
    'Fire store',
    { ...owed('ba.user-check', 'quarter', 'P1M', dueInDays), triggers: ['beforeUse', 'afterUse'] },
    owed('ba.soap-survey', 'general', 'P3M', dueInDays + 20),
    owed('ba.high-pressure', 'bar-10', 'P1Y', dueInDays + 90),
  );

/** One or two of every other kind. */
export const others: readonly DemoAsset[] = [
  air(1, 6),
  air(2, 1),
  air(3, 13),
  air(4, 21),
  practised('FP-01', 'SB-7010', 'face-piece', 'Face-piece, medium', 'Fire store', owed('ba.facepiece', 'mbar-10', 'P6M', 16)),
  practised('FP-02', 'SB-7023', 'face-piece', 'Face-piece, large', 'Fire store', owed('ba.facepiece', 'mbar-10', 'P6M', 33)),
  practised('DS-01', 'SD-311', 'dry-suit', 'Dry suit, under-ice', 'Dive shed', owed('drysuit.survey', 'general', 'P6M', 4)),
  practised('DS-02', 'SD-318', 'dry-suit', 'Dry suit, tender', 'Dive shed', { ...owed('drysuit.survey', 'general', 'P6M', 58), never: true }),
  practised('AM-01', 'SC-12', 'anaesthetic-machine', 'Anaesthetic machine, two vaporisers', 'Clinic', owed('anaes.machine', 'general', 'P1W', 2)),
  practised('AC-01', 'SC-21', 'breathing-circuit', 'Circle, adult', 'Clinic', owed('anaes.circle', 'human', 'P1W', 2)),
  practised('AC-02', 'SC-22', 'breathing-circuit', 'T-piece, small animal', 'Clinic', owed('anaes.t-piece', 'general', 'P1M', 12)),
  practised('AC-03', 'SC-23', 'breathing-circuit', 'Mapleson A', 'Clinic', owed('anaes.mapleson-a', 'general', 'P1M', 19)),
  practised('AC-04', 'SC-24', 'breathing-circuit', 'Coaxial D', 'Clinic', owed('anaes.coaxial-d', 'general', 'P1M', 26)),
  practised(
    'CY-01',
    'SY-88041',
    'cylinder',
    'Cylinder 12 L, 200 bar, steel',
    'Gas store',
    owed('cyl.water-jacket', 'us-metal', 'P5Y', 41),
    owed('cyl.visual', 'us-metal', 'P1Y', 8),
  ),
  practised('CY-02', 'SY-88057', 'cylinder', 'Cylinder 12 L, 200 bar, steel', 'Gas store', owed('cyl.direct-expansion', 'steel', 'P5Y', 70)),
  practised('CY-31', 'SY-88537', 'cylinder', 'Cylinder 12 L, 200 bar, steel', 'Gas store', owed('cyl.visual', 'us-metal', 'P1Y', -12)),
  practised('TK-01', 'ST-1001', 'ibc', 'Transport tank 1000 L', 'Fuel farm', owed('tank.ibc', 'un', 'P30M', 15)),
  practised(
    'FT-01',
    'ST-2001',
    'storage-tank',
    'Petrol tank with vapour return',
    'Fuel farm',
    owed('tank.vapour-10', 'in-use', 'P1Y', 22),
    owed('tank.vapour-2', 'balance', 'P1Y', 90),
  ),
  practised('CT-01', 'ST-3001', 'cargo-tank', 'Bowser tank, one compartment', 'Fuel farm', owed('tank.cargo', 'annual', 'P1Y', 36)),
  practised('PV-01', 'SV-401', 'vent-valve', 'Pressure-vacuum vent valve', 'Fuel farm', owed('valve.vent', 'in-order', 'P1Y', 44)),
  practised('RV-01', 'SV-501', 'relief-valve', 'Relief valve, 100 psi', 'Gas store', owed('valve.relief', 'asme', 'P1Y', 27)),
  practised('SS-01', 'SG-1', 'sealed-store', 'Seed store 1', 'Grain hall', owed('store.half-life', 'new', 'P1Y', 18)),
  practised('SS-02', 'SG-2', 'sealed-store', 'Grain store 2', 'Grain hall', owed('store.half-life', 'new', 'P1Y', -2)),
];

/** Numbers of a row of like items, and a due date for each that is spread over the interval. */
const spread = (from: number, to: number, days: number): readonly { readonly n: number; readonly due: number }[] =>
  Array.from({ length: to - from + 1 }, (_, i) => ({ n: from + i, due: 16 + ((i * 61 + from * 7) % (days - 16)) }));

/** What makes a station of it: the rest of the rows, each owing what its first one does. */
export const rest: readonly DemoAsset[] = [
  ...spread(13, 16, 360).map(({ n, due }) => suit(n, n % 2 === 0 ? 'medium' : 'large', 'Gas store', 'ASTM F1052', 'in-h2o-4', due)),
  ...spread(5, 12, 30).map(({ n, due }) => air(n, due)),
  ...spread(3, 16, 180).map(({ n, due }) => practised(`FP-${two(n)}`, `SB-${7010 + n * 13}`, 'face-piece', `Face-piece, ${n % 3 === 0 ? 'large' : 'medium'}`, 'Fire store', owed('ba.facepiece', 'mbar-10', 'P6M', due))),
  ...spread(3, 8, 180).map(({ n, due }) => practised(`DS-${two(n)}`, `SD-${305 + n * 6}`, 'dry-suit', `Dry suit, ${n % 2 === 0 ? 'tender' : 'diver'}`, 'Dive shed', owed('drysuit.survey', 'general', 'P6M', due))),
  practised('AM-02', 'SC-13', 'anaesthetic-machine', 'Anaesthetic machine, in the transport bay', 'Clinic', owed('anaes.machine', 'general', 'P1W', 5)),
  ...spread(5, 7, 30).map(({ n, due }) => practised(`AC-${two(n)}`, `SC-2${n}`, 'breathing-circuit', 'Circle, adult, spare', 'Clinic', owed('anaes.circle', 'human', 'P1M', due))),
  ...spread(3, 30, 1700).map(({ n, due }) => practised(`CY-${two(n)}`, `SY-${88041 + n * 16}`, 'cylinder', 'Cylinder 12 L, 200 bar, steel', n % 2 === 0 ? 'Gas store' : 'Fire store', owed('cyl.visual', 'us-metal', 'P1Y', due % 350))),
  ...spread(2, 8, 900).map(({ n, due }) => practised(`TK-${two(n)}`, `ST-10${two(n)}`, 'ibc', 'Transport tank 1000 L', 'Fuel farm', owed('tank.ibc', 'un', 'P30M', due))),
  ...spread(2, 3, 360).map(({ n, due }) => practised(`FT-${two(n)}`, `ST-20${two(n)}`, 'storage-tank', 'Aviation fuel tank', 'Fuel farm', owed('tank.vapour-10', 'in-use', 'P1Y', due))),
  practised('TK-09', 'ST-1099', 'ibc', 'Transport tank 1000 L, 2 psi school', 'Fuel farm', owed('tank.ibc', 'psi-2', 'P5Y', 1200), owed('tank.ibc-look', 'general', 'P30M', 300)),
  practised('CT-02', 'ST-3002', 'cargo-tank', 'Bowser tank, second compartment', 'Fuel farm', owed('tank.cargo', 'annual', 'P1Y', 77)),
  ...spread(2, 6, 1000).map(({ n, due }) => practised(`PV-${two(n)}`, `SV-4${two(n)}`, 'vent-valve', 'Pressure-vacuum vent valve', 'Fuel farm', owed('valve.vent', 'in-order', 'P3Y', due))),
  ...spread(2, 8, 1700).map(({ n, due }) => practised(`RV-${two(n)}`, `SV-5${two(n)}`, 'relief-valve', 'Relief valve, 100 psi', n % 2 === 0 ? 'Gas store' : 'Boiler house', owed('valve.relief', 'asme', 'P5Y', due))),
  ...spread(3, 8, 360).map(({ n, due }) => practised(`SS-${two(n)}`, `SG-${n}`, 'sealed-store', n % 2 === 0 ? `Grain store ${n}` : `Seed store ${n}`, 'Grain hall', owed('store.half-life', 'new', 'P1Y', due))),
]; // prettier-ignore

/** Trailers owe for themselves, and are tested with what pulls them. */
export const trailers: readonly DemoAsset[] = [
  {
    tag: 'TL-01',
    serial: 'SV-TL01-88',
    class: 'trailer',
    title: 'Sledge trailer',
    place: 'Vehicle hall',
    attributes: { reservoir: litres(30), axles: number(1) },
    owes: owed('brakes.strokes', 'most', 'P1M', 20),
  },
  {
    tag: 'TL-02',
    serial: 'SV-TL02-88',
    class: 'trailer',
    title: 'Tank trailer',
    place: 'Fuel farm',
    attributes: { reservoir: litres(45), axles: number(2) },
    owes: owed('brakes.strokes', 'most', 'P1M', 22),
  },
  {
    tag: 'TL-04',
    serial: 'SV-TL04-93',
    class: 'trailer',
    title: 'Hut on runners',
    place: 'Vehicle hall',
    attributes: { reservoir: litres(30), axles: number(2) },
    owes: owed('brakes.strokes', 'most', 'P1M', 24),
  },
  {
    tag: 'TL-03',
    serial: 'SV-TL03-91',
    class: 'trailer',
    title: 'Flat trailer',
    place: 'Vehicle hall',
    attributes: { reservoir: litres(30), axles: number(2) },
    owes: owed('brakes.strokes', 'most', 'P1M', 26),
  },
];
