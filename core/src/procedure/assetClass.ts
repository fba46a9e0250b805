import type { Dimension } from '../quantity';
import type { Id, Words } from './language';

export type AttributeKind = { readonly kind: 'words' } | { readonly kind: 'yesNo' } | { readonly kind: 'quantity'; readonly dimension: Dimension };

export interface AttributeRow {
  readonly id: Id;
  readonly title: Words;
  readonly type: AttributeKind;
  /** A figure of the day: asked anew whenever a run is opened. */
  readonly asked?: true;
}

/** A kind of equipment, with the attributes that its procedures may ask for. */
export interface AssetClass {
  readonly id: Id;
  readonly title: Words;
  readonly attributes: readonly AttributeRow[];
}

const words = (id: Id, title: Words): AttributeRow => ({ id, title, type: { kind: 'words' } });
const yesNo = (id: Id, title: Words): AttributeRow => ({ id, title, type: { kind: 'yesNo' } });
const measured =
  (dimension: Dimension) =>
  (id: Id, title: Words): AttributeRow => ({ id, title, type: { kind: 'quantity', dimension } });
const number = measured('number');
const volume = measured('volume');
const pressure = measured('pressure');
const time = measured('time');

const asked = (row: AttributeRow): AttributeRow => ({ ...row, asked: true });

const axle = (n: number): AttributeRow => words(`chamber${n}`, `Chamber type, axle ${n}`);
const vehicle = [
  number('units', 'Units in the combination'),
  volume('reservoir', 'Air reservoirs, each circuit'),
  words('useAs', 'Tested as'),
  words('school', 'Stricter or general figures'),
  number('axles', 'Braked axles'),
  axle(1),
  axle(2),
  axle(3),
] as const;

const cylinder = [
  volume('waterCapacity', 'Water capacity'),
  pressure('testPressure', 'Test pressure, from the marking'),
  pressure('workingPressure', 'Working pressure'),
  yesNo('rejectionMarked', 'A rejection elastic expansion is marked on it'),
  volume('rejectionElastic', 'Rejection elastic expansion, as marked'),
  volume('mostExpansion', 'The maker’s most total expansion'),
  measured('mass')('waterMass', 'Mass of water that fills it at no pressure'),
  volume('certificateExpansion', 'Expansion of the calibrated cylinder, from its certificate'),
  words('specification', 'Specification'),
  words('material', 'Steel, aluminium or composite'),
  words('use', 'Used for'),
] as const;

/** The class of what measures the others. */
export const INSTRUMENT_CLASS = 'instrument';

export const assetClasses: readonly AssetClass[] = [
  {
    id: 'gas-tight-suit',
    title: 'Gas-tight suit',
    attributes: [
      yesNo('openFaced', 'Open-faced'),
      number('exhaustValves', 'Exhaust valves'),
      words('buildStandard', 'Built to'),
      volume('volume', 'Inside volume'),
    ],
  },
  { id: 'dry-suit', title: 'Dry suit', attributes: [volume('volume', 'Inside volume'), words('school', 'Stricter or general figures')] },
  {
    id: 'breathing-set',
    title: 'Breathing set',
    attributes: [
      pressure('filling', 'Nominal filling pressure'),
      volume('waterCapacity', 'Water capacity of its cylinder'),
      volume('trappedVolume', 'Volume between cylinder valve and reducer'),
      words('alarm', 'Low-air alarm built to'),
      words('school', 'Ready from, by school'),
    ],
  },
  { id: 'face-piece', title: 'Face-piece', attributes: [volume('volume', 'Inside volume on the test head')] },
  {
    id: 'anaesthetic-machine',
    title: 'Anaesthetic machine',
    attributes: [yesNo('outletCheckValve', 'A check valve at the outlet'), number('vaporisers', 'Vaporisers')],
  },
  {
    id: 'breathing-circuit',
    title: 'Breathing circuit',
    attributes: [
      words('layout', 'Layout'),
      words('patients', 'Used for'),
      volume('volume', 'Volume with its bag'),
      pressure('reliefPressure', 'The maker’s relief pressure'),
    ],
  },
  { id: 'truck', title: 'Truck', attributes: vehicle },
  { id: 'bus', title: 'Bus', attributes: vehicle },
  { id: 'fire-apparatus', title: 'Fire apparatus', attributes: vehicle },
  { id: 'trailer', title: 'Trailer', attributes: [volume('reservoir', 'Air reservoir')] },
  { id: 'cylinder', title: 'Cylinder', attributes: cylinder },
  { id: 'ibc', title: 'Transport tank (IBC)', attributes: [volume('volume', 'Capacity'), words('school', 'Tested by')] },
  {
    id: 'storage-tank',
    title: 'Storage tank with vapour system',
    attributes: [
      asked(volume('ullage', 'Ullage of all connected tanks')),
      volume('capacity', 'Capacity of all connected tanks'),
      asked(time('sinceDelivery', 'Since the last bulk delivery')),
      asked(time('sinceLiquidTest', 'Since the last liquid test')),
      asked(time('sinceFuelling', 'Since the last fuelling')),
      time('hold', 'How long it is watched, from the authority’s table'),
      pressure('permittedLoss', 'Permitted loss, from the authority’s table'),
      number('nozzles', 'Nozzles affected'),
      words('recovery', 'Vapour recovery: balance or assist'),
      yesNo('aboveGround', 'Above ground'),
    ],
  },
  {
    id: 'cargo-tank',
    title: 'Cargo tank',
    attributes: [volume('capacity', 'Capacity of the compartment'), volume('shell', 'Shell volume'), asked(volume('headspace', 'Head-space'))],
  },
  { id: 'vent-valve', title: 'Pressure-vacuum vent valve', attributes: [words('approval', 'Approval')] },
  {
    id: 'relief-valve',
    title: 'Relief valve',
    attributes: [pressure('set', 'Set pressure'), measured('number')('orifice', 'Orifice area, in²'), words('seat', 'Seat: metal or soft')],
  },
  {
    id: 'sealed-store',
    title: 'Sealed store',
    attributes: [volume('volume', 'Volume of the head-space'), yesNo('since2010', 'Bought since March 2010')],
  },
  // Its range and limits of error are its own figures, not attributes: they are told in the unit that it measures in.
  { id: INSTRUMENT_CLASS, title: 'Instrument', attributes: [] },
];

/**
 * @returns the class, or undefined when there is none of that name.
 * @example assetClass('gas-tight-suit')?.title // 'Gas-tight suit'
 */
export function assetClass(id: Id): AssetClass | undefined {
  return assetClasses.find((c) => c.id === id);
}
