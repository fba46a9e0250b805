import { bagSize, driftEqualToLoss, endurance, equivalentHole, freeAir, gasEnd, leakFlow, pressurePerKelvin, ullageSum } from '../physics';
import { baseUnits, convert, decimalIn, showQuantity, unitRow, type Dimension, type Quantity, type Unit } from '../quantity';

/** One thing that is put in, in whatever unit; the calculation gets it in the base unit of its kind. */
export interface CalculationInput {
  readonly id: string;
  readonly title: string;
  readonly dimension: Dimension;
  /** The unit that it is offered in first, and what it stands at. */
  readonly first: Quantity;
  /** A span of temperature, not a temperature. */
  readonly span?: true;
  readonly optional?: true;
}

export interface CalculationResult {
  readonly title: string;
  readonly value: Quantity;
}

/** A sum of the trade: what goes in, what comes out, and the formula that is shown with both. */
export interface Calculation {
  readonly id: string;
  readonly title: string;
  /** The formula, in signs. */
  readonly formula: string;
  readonly source: string;
  /** What must be known to believe it. */
  readonly note: string;
  readonly inputs: readonly CalculationInput[];
  readonly work: (given: Readonly<Record<string, number>>) => readonly CalculationResult[];
}

const q = (value: number, unit: Unit): Quantity => ({ value, unit });
/** A result in the unit that the trade reads it in, to six digits. */
const as = (title: string, base: Quantity, unit: Unit): CalculationResult => ({ title, value: q(Number(convert(base, unit).value.toPrecision(6)), unit) });
const plain = (title: string, value: number, unit: Unit): CalculationResult => ({ title, value: q(Number(value.toPrecision(6)), unit) });
const input = (id: string, title: string, dimension: Dimension, first: Quantity, more: Partial<CalculationInput> = {}): CalculationInput => ({
  id,
  title,
  dimension,
  first,
  ...more,
});
const tankTitles = ['first', 'second', 'third'] as const;

/** Every calculation, in the order of the calculator. */
export const calculations: readonly Calculation[] = [
  {
    id: 'leak-from-decay',
    title: 'Leak from a pressure decay',
    formula: 'Q = V · (p1 − p2) ÷ (p_std · t)',
    source: 'mole balance of an ideal gas; EN 13184, from memory',
    note: 'Rigid walls, the same temperature at both ends. The volume includes hoses and the gauge line.',
    inputs: [
      input('volume', 'Inside volume', 'volume', q(200, 'L')),
      input('start', 'Pressure at the start', 'pressure', q(16.5, 'mbar')),
      input('end', 'Pressure at the end', 'pressure', q(15, 'mbar')),
      input('time', 'Time between them', 'time', q(6, 'min')),
    ],
    work: ({ volume = 0, start = 0, end = 0, time = 0 }) => {
      const flow = leakFlow(gasEnd(start), gasEnd(end), volume, time);
      return [
        as('Leak at 20 °C and 1013.25 hPa', q(flow, 'm3/s'), 'mL/min'),
        as('Loss a minute', q(((start - end) * 60) / time, 'Pa'), 'mbar'),
        ...(flow > 0 ? [as('One round hole of', q(equivalentHole(flow, (start + end) / 2), 'm'), 'mm')] : []),
      ];
    },
  },
  {
    id: 'equivalent-hole',
    title: 'Equivalent hole',
    formula: 'd = √(4·Q·ρ ÷ (π · G)), G the mass flux of air, choked above 0.9 bar',
    source: 'isentropic flow, discharge coefficient 0.65 for a sharp edge; common practice',
    note: 'A real leak is a slit or a scratch: this is the one hole that would pass as much.',
    inputs: [input('flow', 'Leak', 'flow', q(50, 'mL/min')), input('pressure', 'Pressure behind it', 'pressure', q(16, 'mbar'))],
    work: ({ flow = 0, pressure = 0 }) => [as('Diameter', q(equivalentHole(flow, pressure), 'm'), 'mm')],
  },
  {
    id: 'temperature-effect',
    title: 'Temperature on a sealed vessel',
    formula: 'Δp = (p + p_atm) · ΔT ÷ T',
    source: 'Gay-Lussac',
    note: 'The mean temperature of the gas inside, not of the room. A vessel that gives way moves less.',
    inputs: [
      input('pressure', 'Gauge pressure', 'pressure', q(16.5, 'mbar')),
      input('change', 'Change of the gas temperature', 'temperature', q(1, 'K'), { span: true }),
      input('loss', 'A permitted loss', 'pressure', q(3, 'mbar')),
    ],
    work: ({ pressure = 0, change = 0, loss = 0 }) => [
      as('Change of the pressure', q(pressurePerKelvin(pressure) * change, 'Pa'), 'mbar'),
      plain('Cooling that alone would be the loss', driftEqualToLoss(pressure, loss), 'K'),
    ],
  },
  {
    id: 'half-life',
    title: 'Half-life',
    formula: 't½ = t · ln 2 ÷ ln(p1 ÷ p2)',
    source: 'exponential decay of the gauge pressure',
    note: 'Two readings only: a fit over many, as the bench makes it, is surer.',
    inputs: [
      input('start', 'Pressure at the start', 'pressure', q(250, 'Pa')),
      input('end', 'Pressure at the end', 'pressure', q(180, 'Pa')),
      input('time', 'Time between them', 'time', q(2, 'min')),
    ],
    work: ({ start = 0, end = 0, time = 0 }) => {
      if (!(end > 0 && start > end)) throw new RangeError('the end must lie above nothing and below the start');
      return [as('Half-life', q((time * Math.LN2) / Math.log(start / end), 's'), 'min')];
    },
  },
  {
    id: 'contents',
    title: 'Cylinder contents and endurance',
    formula: 'V = V_w · (p ÷ Z) · (T_ref ÷ T) · (Z_ref ÷ p_ref)',
    source: 'real-gas factor of dry air, Lemmon et al. 2000, from memory',
    note: 'Free air at 15 °C. The shorthand, water capacity times pressure, is too high above 150 bar.',
    inputs: [
      input('water', 'Water capacity', 'volume', q(6.8, 'L')),
      input('pressure', 'Gauge pressure', 'pressure', q(300, 'bar')),
      input('down', 'Down to', 'pressure', q(55, 'bar')),
      input('rate', 'Breathed', 'flow', q(40, 'L/min')),
    ],
    work: ({ water = 0, pressure = 0, down = 0, rate = 0 }) => {
      const lasts = endurance(water, pressure, rate, down);
      return [
        as('Free air inside', q(freeAir(water, pressure), 'm3'), 'L'),
        as('Of it usable', q(lasts.usableM3, 'm3'), 'L'),
        as('Lasts', q(lasts.seconds, 's'), 'min'),
        as('By the shorthand', q(lasts.shorthandSeconds, 's'), 'min'),
      ];
    },
  },
  {
    id: 'bag',
    title: 'Breathing bag',
    formula: '1 L for each 10 kg, against 5 to 6 breaths of 10 to 15 mL/kg',
    source: 'veterinary anaesthesia textbooks, common practice',
    note: 'Rounded up to a bag that exists.',
    inputs: [input('mass', 'Body mass', 'mass', q(22, 'kg'))],
    work: ({ mass = 0 }) => {
      const bag = bagSize(mass);
      return [plain('By mass', bag.byMass, 'L'), plain('By the breath, from', bag.tidalLow, 'L'), plain('By the breath, to', bag.tidalHigh, 'L')];
    },
  },
  {
    id: 'ullage',
    title: 'Ullage of connected tanks',
    formula: 'Σ (capacity − liquid); at least 15 % of each, 300 US gal under 1000, at most 30 000 together',
    source: 'common practice',
    note: 'Leave out a tank that is not connected.',
    inputs: tankTitles.flatMap((title, i) => [
      input(`capacity${String(i + 1)}`, `Capacity, ${title} tank`, 'volume', q(i === 0 ? 10_000 : 0, '[gal_us]'), i === 0 ? {} : { optional: true }),
      input(`liquid${String(i + 1)}`, `Liquid, ${title} tank`, 'volume', q(i === 0 ? 6000 : 0, '[gal_us]'), i === 0 ? {} : { optional: true }),
    ]),
    work: (given) => {
      const gallons = (m3: number): number => convert(q(m3, 'm3'), '[gal_us]').value;
      const tanks = [1, 2, 3]
        .map((n) => ({ capacityGal: gallons(given[`capacity${String(n)}`] ?? 0), liquidGal: gallons(given[`liquid${String(n)}`] ?? 0) }))
        .filter((t) => t.capacityGal > 0);
      const sum = ullageSum(tanks);
      return [
        plain('Ullage together', sum.totalGal, '[gal_us]'),
        plain('Tanks with too little', sum.tooLittle.length, '1'),
        plain('Over the most that may be tested together', sum.tooMuch ? sum.totalGal - 30_000 : 0, '[gal_us]'),
      ];
    },
  },
  {
    id: 'expansion',
    title: 'Expansion of a cylinder',
    formula: 'elastic = total − permanent; % = 100 · permanent ÷ total',
    source: '49 CFR 180.205 and CGA C-1, from memory',
    note: 'In a jacket. Forced straight in, the water’s own compression is taken off first.',
    inputs: [input('total', 'Total', 'volume', q(168.4, 'mL')), input('permanent', 'Permanent', 'volume', q(4.7, 'mL'))],
    work: ({ total = 0, permanent = 0 }) => {
      if (!(total > 0)) throw new RangeError('without an expansion there is no share of it');
      return [as('Elastic', q(total - permanent, 'm3'), 'mL'), plain('Permanent, of the total', (100 * permanent) / total, '%')];
    },
  },
];

/**
 * @example calculationById('nothing') // undefined
 */
export function calculationById(id: string): Calculation | undefined {
  return calculations.find((c) => c.id === id);
}

export type Outcome = { readonly ok: true; readonly results: readonly CalculationResult[] } | { readonly ok: false; readonly why: string };

/**
 * Works a calculation out.
 * @param given a quantity for each input, in any unit of its kind
 * @returns the results, or what is missing or cannot be
 * @example the contents of 6.8 L at 300 bar, breathed at 40 L/min: free air 1832.34 L, lasts 45.6385 min
 */
export function calculate(calculation: Calculation, given: Readonly<Record<string, Quantity>>): Outcome {
  const base: Record<string, number> = {};
  for (const i of calculation.inputs) {
    const found = given[i.id];
    if (!found) {
      if (i.optional) continue;
      return { ok: false, why: `${i.title} is missing.` };
    }
    if (!Number.isFinite(found.value) || unitRow(found.unit)?.dimension !== i.dimension)
      return { ok: false, why: `${i.title} cannot be ${showQuantity(found)}.` };
    const zero = { value: 0, unit: found.unit };
    const whole = decimalIn(found, baseUnits[i.dimension]);
    base[i.id] = (i.span ? whole.minus(decimalIn(zero, baseUnits[i.dimension])) : whole).toNumber();
  }
  try {
    const results = calculation.work(base);
    return results.every((r) => Number.isFinite(r.value.value)) ? { ok: true, results } : { ok: false, why: 'These figures cannot go together.' };
  } catch (error) {
    return { ok: false, why: error instanceof RangeError ? `${error.message}.` : 'These figures cannot go together.' };
  }
}
