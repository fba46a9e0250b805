import {
  decimalIn,
  expectedEnd,
  findingsOf,
  instrumentsOf,
  openAttempt,
  reasonInWords,
  recordOf,
  stageUnit,
  unitLabel,
  type Plan,
  type RunState,
  type Stage,
  byKind,
  type Attempt,
  type MethodOf,
} from '@grellin/core';

/** A hold that is less likely than this to keep its limit may be broken off; one that is likely to must be waited out. */
const HOPELESS = 0.005;

/** What can be foretold of a hold that is under way. */
export interface Forecast {
  readonly words: string;
  readonly hopeless: boolean;
  /** The end as it is expected, in the stage's unit; null where the strip has nowhere to draw it. */
  readonly bar: { readonly low: number; readonly value: number; readonly high: number } | null;
}

function sureInWords(chance: number): string {
  if (chance > 1 - HOPELESS) return 'over 99';
  return chance < HOPELESS ? 'under 1' : String(Math.round(chance * 100));
}

/** The forecast of the open attempt of a stage; null where there is nothing to tell yet. Pure. */
export function forecastOf(plan: Plan, run: RunState, stage: Stage): Forecast | null {
  const open = openAttempt(run);
  if (!open) return null;
  return byKind({ halfLife: () => halfLifeForecast(plan, run, stage, open), decay: (m) => holdForecast(plan, run, stage, m, open) }, stage.method) ?? null;
}

function halfLifeForecast(plan: Plan, run: RunState, stage: Stage, open: Attempt): Forecast | null {
  const reason = findingsOf(plan, run, stage, open)
    .flatMap((f) => f.reasons)
    .find((r) => r.code === 'halfLifeFit');
  return reason ? { words: reasonInWords(reason), hopeless: false, bar: null } : null;
}

function holdForecast(plan: Plan, run: RunState, stage: Stage, method: MethodOf<'decay'>, open: Attempt): Forecast | null {
  const record = recordOf(run, open);
  const instruments = instrumentsOf(run);
  for (const channel of method.channels) {
    const instrument = instruments[channel];
    const found = instrument && expectedEnd(plan, stage, method, record, channel, instrument);
    if (!found) continue;
    const { prediction: p, unit, chance } = found;
    const to = (v: number): string => String(Number(v.toPrecision(4)));
    const words = `Expected at the end: ${to(p.value)} (${to(p.reading.low)} to ${to(p.reading.high)}) ${unitLabel(unit)}; ${sureInWords(chance)} % likely to keep the limit`;
    const scale = (v: number): number => decimalIn({ value: Number(v.toPrecision(12)), unit }, stageUnit(plan, stage.id)).toNumber();
    return { words, hopeless: chance < HOPELESS, bar: { low: scale(p.reading.low), value: scale(p.value), high: scale(p.reading.high) } };
  }
  return null;
}
