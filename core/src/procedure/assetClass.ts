import { decimalIn, sameDimension, showQuantity, type Dimension, type Quantity, type Unit } from '../quantity';
import type { Attributes, AttributeValue } from './condition';
import type { Id, Words } from './language';

/** One of the answers that an attribute may have: how rules name it, and how people do. */
export interface Choice {
  readonly id: Id;
  readonly title: Words;
}

/** What nobody would expect of such a thing is asked about once more: from, and to. */
export interface Plausible {
  readonly low: Quantity;
  readonly high: Quantity;
}

export type AttributeKind =
  | { readonly kind: 'words' }
  | { readonly kind: 'choice'; readonly choices: readonly Choice[] }
  | { readonly kind: 'yesNo' }
  | {
      readonly kind: 'quantity';
      readonly dimension: Dimension;
      /** Units that the trade writes it in, the one that is meant where nothing is said first. */
      readonly usual: readonly [Unit, ...Unit[]];
      readonly plausible: Plausible;
    };

export interface AttributeRow {
  readonly id: Id;
  readonly title: Words;
  readonly type: AttributeKind;
  /** A figure of the day: asked anew whenever a run is opened. */
  readonly asked?: true;
  /** A figure of the day that no rule needs: it is asked for the record, and may be left unsaid. */
  readonly noted?: true;
  /** It names a kept table of this kind. */
  readonly table?: Id;
  /** It names, by its tag, an item of this class that goes along with it: what forbids the use of that one forbids it here. */
  readonly carries?: Id;
}

/** A kind of equipment, with the attributes that its procedures may ask for. */
export interface AssetClass {
  readonly id: Id;
  readonly title: Words;
  readonly attributes: readonly AttributeRow[];
}

const words = (id: Id, title: Words): AttributeRow => ({ id, title, type: { kind: 'words' } });
const yesNo = (id: Id, title: Words): AttributeRow => ({ id, title, type: { kind: 'yesNo' } });
/** Answers by what rules call them. */
const choice = (id: Id, title: Words, answers: Readonly<Record<Id, Words>>): AttributeRow => ({
  id,
  title,
  type: { kind: 'choice', choices: Object.entries(answers).map(([answer, called]) => ({ id: answer, title: called })) },
});
/** A figure with the units of its trade, and what is plausible in the first of them (common practice, wide: it is there for slips of the finger). */
export const measured =
  (dimension: Dimension, ...usual: [Unit, ...Unit[]]) =>
  (id: Id, title: Words, low: number, high: number): AttributeRow => ({
    id,
    title,
    type: { kind: 'quantity', dimension, usual, plausible: { low: { value: low, unit: usual[0] }, high: { value: high, unit: usual[0] } } },
  });
const number = measured('number', '1');
const litres = measured('volume', 'L', 'mL');
const millilitres = measured('volume', 'mL', 'L');
const gallons = measured('volume', '[gal_us]', 'L', 'm3');
const cubicMetres = measured('volume', 'm3', '[cft_i]');
const bar = measured('pressure', 'bar', '[psi]', 'MPa');
const hours = measured('time', 'h', 'd', 'min');

const asked = (row: AttributeRow): AttributeRow => ({ ...row, asked: true });
const noted = (row: AttributeRow): AttributeRow => ({ ...row, asked: true, noted: true });

const OTHER = { other: 'another' } as const;
const school = (stricter: Id, title = 'Stricter or general figures'): AttributeRow =>
  choice('school', title, { general: 'general figures', [stricter]: 'the stricter figures' });
const chambers = ['6', '9', '12', '16', '20', '24', '30', '36', '12L', '16L', '20L', '24L', '24LS', '30LS'] as const;
const axle = (id: Id, title: Words = 'Chamber type'): AttributeRow =>
  choice(id, title, {
    ...Object.fromEntries(chambers.map((c) => [c, c.replace(/L.*/, (l) => ` ${l === 'L' ? 'long stroke' : 'long stroke, special'}`)])),
    ...OTHER,
  });
const unit = choice('unit', 'Unit it is of', {
  '1': 'the towing vehicle, or the only one',
  '2': 'the first trailer',
  '3': 'the second trailer',
  '4': 'the third trailer',
});
const vehicle = [
  number('units', 'Units in the combination', 1, 4),
  litres('reservoir', 'Air reservoirs, each circuit', 3, 400),
  choice('useAs', 'Tested as', {
    single: 'a single vehicle',
    combination: 'a combination',
    'bus A': 'a bus, first school',
    'bus B': 'a bus, second school',
    'fire apparatus': 'a fire apparatus',
    'build from low': 'a combination, built up from low air',
  }),
  school('stricter'),
  number('axles', 'Braked axles', 1, 12),
  yesNo('lowAirLamp', 'A lamp for low air'),
  yesNo('lowAirBuzzer', 'A buzzer for low air'),
  yesNo('secondLamp', 'A second lamp: at the rear, or of the other circuit'),
  yesNo('lowAirMessage', 'A message for low air on a display'),
  yesNo('ebs', 'Electronic brakes, with a lamp of their own'),
  noted(measured('length', 'km', '[mi_i]')('mileage', 'Mileage', 0, 5_000_000)),
] as const;

const cylinder = [
  litres('waterCapacity', 'Water capacity', 0.1, 3000),
  bar('testPressure', 'Test pressure, from the marking', 10, 1500),
  bar('workingPressure', 'Working pressure', 5, 1000),
  yesNo('rejectionMarked', 'A rejection elastic expansion is marked on it'),
  millilitres('rejectionElastic', 'Rejection elastic expansion, as marked', 1, 20_000),
  millilitres('mostExpansion', 'The maker’s most total expansion', 1, 20_000),
  measured('mass', 'kg', 'g', '[lb_av]')('waterMass', 'Mass of water that fills it at no pressure', 0.1, 3000),
  millilitres('certificateExpansion', 'Expansion of the calibrated cylinder, from its certificate', 1, 20_000),
  words('specification', 'Specification'),
  choice('material', 'Steel, aluminium or composite', { steel: 'steel', aluminium: 'aluminium', composite: 'composite', ...OTHER }),
  choice('use', 'Used for', {
    'US metal': 'transport, United States, metal',
    'UN metal': 'transport, UN, metal',
    diving: 'diving',
    composite: 'composite',
    ...OTHER,
  }),
] as const;

/** The class of what measures the others. */
export const INSTRUMENT_CLASS = 'instrument';

export const assetClasses: readonly AssetClass[] = [
  {
    id: 'gas-tight-suit',
    title: 'Gas-tight suit',
    attributes: [
      yesNo('openFaced', 'Open-faced'),
      number('exhaustValves', 'Exhaust valves', 0, 6),
      number('adapters', 'Test adapters used: one or two', 1, 2),
      words('adapterKind', 'Kind of adapter for its valves, by the officer’s own name'),
      choice('buildStandard', 'Built to', {
        'ASTM F1052': 'ASTM F1052',
        'NFPA 1991': 'NFPA 1991',
        'EN 943-1': 'EN 943-1',
        '29 CFR 1910.120': '29 CFR 1910.120',
        other: 'another standard',
      }),
      litres('volume', 'Inside volume', 50, 1000),
    ],
  },
  { id: 'dry-suit', title: 'Dry suit', attributes: [litres('volume', 'Inside volume', 20, 500), school('strict')] },
  {
    id: 'breathing-set',
    title: 'Breathing set',
    attributes: [
      bar('filling', 'Nominal filling pressure', 50, 500),
      litres('waterCapacity', 'Water capacity of its cylinder', 0.5, 20),
      { ...words('cylinder', 'Cylinder that it carries, by its tag'), carries: 'cylinder' },
      millilitres('trappedVolume', 'Volume between cylinder valve and reducer', 1, 500),
      yesNo('alarmLamp', 'A lamp with its low-air alarm'),
      yesNo('display', 'A display of the quarters'),
      yesNo('halfWarning', 'A warning at half contents'),
      choice('halfPattern', 'What the warning at half contents looks like', {
        steady: 'it comes and stays lit',
        blinks: 'it blinks for about 20 s, then stays lit',
        other: 'as its maker says',
      }),
      choice('alarm', 'Low-air alarm built to', { quarter: 'a quarter of the filling', third: 'a third of the filling', '55 bar': '55 bar', ...OTHER }),
      school('strict', 'School that says when it is ready'),
    ],
  },
  { id: 'face-piece', title: 'Face-piece', attributes: [litres('volume', 'Inside volume on the test head', 0.2, 20)] },
  {
    id: 'anaesthetic-machine',
    title: 'Anaesthetic machine',
    attributes: [yesNo('outletCheckValve', 'A check valve at the outlet'), number('vaporisers', 'Vaporisers', 0, 8)],
  },
  {
    id: 'breathing-circuit',
    title: 'Breathing circuit',
    attributes: [
      choice('layout', 'Layout', {
        circle: 'circle',
        'mapleson-a': 'Mapleson A',
        'mapleson-f': 'T-piece (Mapleson F)',
        'coaxial-d': 'coaxial Mapleson D',
        ...OTHER,
      }),
      choice('patients', 'Used for', {
        human: 'people',
        'human, checkout': 'people, by the checkout before use',
        'small animal': 'small animals',
        'small animal, watched first': 'small animals, watched before a flow is asked',
        disposable: 'people, used once',
        ...OTHER,
      }),
      litres('volume', 'Volume with its bag', 0.2, 20),
      measured('pressure', 'cm[H2O]', 'mbar', 'kPa')('reliefPressure', 'The maker’s relief pressure', 5, 120),
      yesNo('automaticTest', 'Its machine has a leak test of its own'),
      noted(measured('mass', 'kg', '[lb_av]', 'g')('patientMass', 'Body mass of the next patient', 0.02, 1500)),
    ],
  },
  { id: 'truck', title: 'Truck', attributes: vehicle },
  { id: 'bus', title: 'Bus', attributes: vehicle },
  { id: 'fire-apparatus', title: 'Fire apparatus', attributes: vehicle },
  { id: 'trailer', title: 'Trailer', attributes: [litres('reservoir', 'Air reservoir', 3, 400), number('axles', 'Braked axles', 1, 12)] },
  { id: 'cylinder', title: 'Cylinder', attributes: cylinder },
  {
    id: 'ibc',
    title: 'Transport tank (IBC)',
    attributes: [
      litres('volume', 'Capacity', 200, 3500),
      choice('school', 'Tested by', { un: 'UN: at least 20 kPa', 'psi-2': '2 psi, by bubbles' }),
      yesNo('flammable', 'It held something flammable'),
    ],
  },
  {
    id: 'storage-tank',
    title: 'Storage tank with vapour system',
    attributes: [
      asked(hours('sinceDelivery', 'Since the last bulk delivery', 0, 9000)),
      asked(hours('sinceLiquidTest', 'Since the last liquid test', 0, 90_000)),
      asked(hours('sinceFuelling', 'Since the last fuelling', 0, 9000)),
      number('tanks', 'Connected tanks', 1, 12),
      choice('nitrogenBy', 'Nitrogen goes in by', { coupler: 'a test coupler', vent: 'the vent pipe' }),
      yesNo('tieTest', 'The district asks for the tank-tie test'),
      number('poppets', 'Poppets', 0, 24),
      { ...words('authority', 'Authority whose table of times and losses holds'), table: 'vapour-times' },
      number('nozzles', 'Nozzles affected', 1, 100),
      choice('recovery', 'Vapour recovery: balance or assist', { balance: 'balance', assist: 'assist', federal: 'neither: the federal table' }),
      yesNo('aboveGround', 'Above ground'),
      number('latitude', 'Latitude, degrees north', -90, 90),
      number('longitude', 'Longitude, degrees east', -180, 180),
    ],
  },
  {
    id: 'cargo-tank',
    title: 'Cargo tank',
    attributes: [
      gallons('capacity', 'Capacity of the compartment', 50, 20_000),
      gallons('shell', 'Shell volume', 50, 25_000),
      asked(gallons('headspace', 'Head-space', 1, 25_000)),
    ],
  },
  { id: 'vent-valve', title: 'Pressure-vacuum vent valve', attributes: [words('approval', 'Approval')] },
  {
    id: 'relief-valve',
    title: 'Relief valve',
    attributes: [
      measured('pressure', '[psi]', 'bar', 'kPa')('set', 'Set pressure', 1, 10_000),
      number('orifice', 'Orifice area, in²', 0.01, 30),
      choice('seat', 'Seat: metal or soft', { metal: 'metal', soft: 'soft' }),
    ],
  },
  {
    id: 'sealed-store',
    title: 'Sealed store',
    attributes: [cubicMetres('volume', 'Volume of the head-space', 1, 200_000), yesNo('since2010', 'Bought since March 2010')],
  },
  // Its range and limits of error are its own figures, not attributes: they are told in the unit that it measures in.
  { id: INSTRUMENT_CLASS, title: 'Instrument', attributes: [] },
];

/** Kinds of part that are told of a day, and are no items of the register: they come and go with what they belong to. */
export const partKinds: readonly AssetClass[] = [
  {
    id: 'connected-tank',
    title: 'Connected tank',
    attributes: [
      words('name', 'What it holds, or its number'),
      gallons('capacity', 'Capacity', 100, 100_000),
      gallons('ullage', 'Ullage, from the printout', 10, 100_000),
      words('manifold', 'Manifolded with (the same word for tanks that are joined)'),
    ],
  },
  { id: 'vaporiser', title: 'Vaporiser', attributes: [words('name', 'Agent, or its place')] },
  { id: 'braked-axle', title: 'Braked axle', attributes: [words('name', 'Axle'), unit, axle('chamber')] },
];

/**
 * The attributes of a kind of item, or of a part that is told of a day.
 * @example attributesOf('vaporiser').map((a) => a.id) // ['name']
 */
export const attributesOf = (kind: Id): readonly AttributeRow[] => [...assetClasses, ...partKinds].find((c) => c.id === kind)?.attributes ?? [];

/**
 * @returns the class, or undefined when there is none of that name.
 * @example assetClass('gas-tight-suit')?.title // 'Gas-tight suit'
 */
export function assetClass(id: Id): AssetClass | undefined {
  return assetClasses.find((c) => c.id === id);
}

/** What an item says of itself that nobody would expect of its kind. */
export interface OddAttribute {
  readonly id: Id;
  readonly title: Words;
  /** Why it is asked about. */
  readonly words: Words;
}

/**
 * Attributes whose figure is far from anything that its class has: a unit left as it stood, a decimal point that slipped. They are asked about once more, and then kept.
 * @example oddAttributes('gas-tight-suit', { volume: { value: 220, unit: 'm3' } })[0]?.words // 'Inside volume: 220 m³ is more than 1000 L'
 * @example oddAttributes('breathing-set', { filling: { value: 300, unit: 'bar' } }) // []
 */
export function oddAttributes(kind: Id, attributes: Attributes): readonly OddAttribute[] {
  return attributesOf(kind).flatMap(({ id, title, type }): readonly OddAttribute[] => {
    const value = attributes[id];
    if (type.kind !== 'quantity' || typeof value !== 'object' || !sameDimension(value.unit, type.usual[0])) return [];
    const { low, high } = type.plausible;
    const is = decimalIn(value, low.unit);
    if (is.gte(low.value) && is.lte(high.value)) return [];
    const bound = is.lt(low.value) ? `less than ${showQuantity(low)}` : `more than ${showQuantity(high)}`;
    return [{ id, title, words: `${title}: ${showQuantity(value)} is ${bound}` }];
  });
}

/**
 * How an attribute's value is called.
 * @example attributeInWords({ id: 'layout', … }, 'mapleson-a') // 'Mapleson A'
 */
export function attributeInWords(row: AttributeRow, value: AttributeValue): Words {
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'object') return showQuantity(value);
  return row.type.kind === 'choice' ? (row.type.choices.find((c) => c.id === value)?.title ?? value) : value;
}
