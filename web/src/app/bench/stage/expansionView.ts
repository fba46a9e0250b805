import {
  attemptedOf,
  decimalIn,
  expansionSoFar,
  figureOf,
  readingsOf,
  showQuantity,
  WORKING_READ,
  type MethodOf,
  type Plan,
  type Quantity,
  type RunState,
  type Stage,
} from '@grellin/core';

/** The parts of an expansion as they come, and how high the water stands. */
export interface ExpansionView {
  /** What is going on, in the order of the work. */
  readonly steps: readonly { readonly id: string; readonly words: string; readonly state: 'done' | 'here' | 'ahead' }[];
  readonly figures: readonly { readonly title: string; readonly shown: string | null; readonly limit: string | null }[];
  /** 0 to 1 of the scale's height. */
  readonly water: number | null;
  readonly pressure: number | null;
  readonly test: string;
}

const words: readonly (readonly [string, string])[] = [
  ['zeroed', 'Zero'],
  ['start', 'Test pressure'],
  ['total-read', 'Held, total read'],
  ['permanent-read', 'Released'],
];

/** The expansion of a stage as far as it has come. */
export function expansionView(plan: Plan, state: RunState, stage: Stage, method: MethodOf<'expansion'>): ExpansionView {
  const attempt = state.attempts[stage.id]?.at(-1);
  const marks = new Set(attempt?.marks.map((m) => m.mark));
  const inOrder = words.flatMap((w) => (w[0] === 'start' && method.working ? [[WORKING_READ, 'Working pressure, read'] as const, w] : [w]));
  const first = inOrder.findIndex(([mark]) => !marks.has(mark));
  const soFar = attempt ? expansionSoFar(attemptedOf(plan, state, { ...stage, method }, attempt)) : null;
  const limitOf = (of: string): string | null => {
    const limit = plan.limits.find((l) => l.stage === stage.id && l.of === of);
    return limit ? `${{ '<=': 'at most', '<': 'under', '>=': 'at least', '>': 'over' }[limit.op]} ${showQuantity(limit.resolved)}` : null;
  };
  const shown = (q: Quantity | null | undefined): string | null =>
    q ? showQuantity({ ...q, value: Number(q.value.toPrecision(q.unit === '%' ? 4 : 6)) }) : null;
  const newest = (channel: string): Quantity | undefined => readingsOf(state, channel).at(-1);
  // A balance where no burette stands: what it shows is about as many mL.
  const weighed = method.scale === undefined ? undefined : newest(method.scale);
  const water = newest(method.water) ?? (weighed ? { value: decimalIn(weighed, 'g').toNumber(), unit: 'mL' } : undefined);
  const pressure = newest(method.pressure);
  const test = figureOf(plan, method.test.low);
  const share = (q: Quantity | undefined, of: Quantity): number | null => (q ? Math.min(1, Math.max(0, decimalIn(q, of.unit).toNumber() / of.value)) : null);
  const most = plan.limits.find((l) => l.stage === stage.id && l.of === 'total')?.resolved;
  const full: Quantity = most ?? { value: Math.max(1, (soFar?.total.value ?? water?.value ?? 1) * 1.15), unit: water?.unit ?? 'mL' };
  return {
    steps: inOrder.map(([id, say], i) => ({ id, words: say, state: marks.has(id) ? 'done' : i === first ? 'here' : 'ahead' })),
    figures: [
      { title: 'Total', shown: shown(soFar?.total), limit: limitOf('total') },
      { title: 'Permanent', shown: shown(soFar?.permanent), limit: limitOf('permanent') },
      { title: 'Elastic', shown: shown(soFar?.elastic), limit: limitOf('elastic') },
      { title: 'Permanent, of the total', shown: shown(soFar?.percent), limit: limitOf('percent') },
    ],
    water: share(water, full),
    pressure: share(pressure, { value: test.value * 1.1, unit: test.unit }),
    test: showQuantity(test),
  };
}
