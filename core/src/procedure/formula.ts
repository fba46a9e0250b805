import { bagSize } from '../physics';
import { decimal, decimalIn, significant, type Decimal, type Quantity } from '../quantity';
import type { Id, Words } from './language';

/** A named function of figures, the only arithmetic that a procedure may ask for. */
export interface Formula {
  readonly id: Id;
  readonly title: Words;
  /** Names of the figures it takes. */
  readonly takes: readonly Id[];
  readonly source: Words;
  /** @returns undefined when the figures do not go together */
  readonly compute: (given: Readonly<Record<Id, Quantity>>) => Quantity | undefined;
}

type Pair = (a: Decimal, b: Decimal) => Decimal;

/** A function of `a` and `b`, worked and given in the unit of `a`. */
function ofTwo(id: Id, title: Words, source: Words, work: Pair): Formula {
  return {
    id,
    title,
    takes: ['a', 'b'],
    source,
    compute: ({ a, b }) => a && b && { value: significant(work(decimal(a.value), decimalIn(b, a.unit))).toNumber(), unit: a.unit },
  };
}

const formulas: readonly Formula[] = [
  ofTwo('lesser', 'the lesser of two', 'arithmetic', (a, b) => (a.lt(b) ? a : b)),
  ofTwo('greater', 'the greater of two', 'arithmetic', (a, b) => (a.gt(b) ? a : b)),
  ofTwo('sum', 'their sum', 'arithmetic', (a, b) => a.plus(b)),
  ofTwo('less', 'the first less the second', 'arithmetic', (a, b) => a.minus(b)),
  // Written out over the things of a list before anything is worked out; of one thing it is that thing's own.
  { id: 'total', title: 'its sum over the things of a list', takes: ['each'], source: 'arithmetic', compute: ({ each }) => each },
  {
    id: 'share',
    title: 'a share of a figure',
    takes: ['of', 'share'],
    source: 'arithmetic',
    compute: ({ of, share }) => of && share && { value: significant(decimal(of.value).times(decimalIn(share, '1'))).toNumber(), unit: of.unit },
  },
  ...(
    [
      ['bagByMass', 'size of the breathing bag: 1 L for each 10 kg, rounded up to a bag that exists', 'byMass'],
      ['bagByBreathLow', 'least bag by the breath: five of 10 mL/kg', 'tidalLow'],
      ['bagByBreathHigh', 'most bag by the breath: six of 15 mL/kg', 'tidalHigh'],
    ] as const
  ).map(([id, title, rule]): Formula => ({
    id,
    title,
    takes: ['mass'],
    source: 'common practice',
    compute: ({ mass }) => {
      const kg = mass ? decimalIn(mass, 'kg').toNumber() : 0;
      return kg > 0 ? { value: Number(bagSize(kg)[rule].toPrecision(3)), unit: 'L' } : undefined;
    },
  })),
  {
    id: 'vapourEnd',
    title: 'least pressure left after five minutes from 2 inH2O: 2·e^(−k/V)',
    takes: ['k', 'ullage'],
    source: 'CARB TP-201.3, equation 9-1; 40 CFR 63.11120(a)(2) (from memory)',
    compute: ({ k, ullage }) => {
      if (!k || !ullage) return undefined;
      const gallons = decimalIn(ullage, '[gal_us]').toNumber();
      return gallons > 0 ? { value: significant(decimal(2 * Math.exp(-k.value / gallons))).toNumber(), unit: "[in_i'H2O]" } : undefined;
    },
  },
];

const byId: ReadonlyMap<Id, Formula> = new Map(formulas.map((f) => [f.id, f]));

/**
 * A formula by its name.
 * @example formulaById('lesser')?.compute({ a: { value: 55, unit: '[psi]' }, b: { value: 50, unit: '[psi]' } }) // 50 psi
 */
export function formulaById(id: Id): Formula | undefined {
  return byId.get(id);
}

export const allFormulas: readonly Formula[] = formulas;
