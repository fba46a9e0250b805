import { channelsRead, type Plan, type Prompt, type Stage, type ToldList, type Words } from '../procedure';
import { decimalIn, showQuantity, significant, decimal } from '../quantity';
import { stageTrace } from './trace';
import type { RunState } from './state';

/** What was read at the minute is read this near to it; anything else is of another one. A share of the time between two readings. Common practice. */
const NEAR = 0.25;

function tableOf(plan: Plan, state: RunState, stage: Stage, prompt: Prompt): ToldList | null {
  const [channel = ''] = channelsRead(stage.method);
  const trace = stageTrace(plan, state, stage.id, channel);
  if (!trace?.hold) return null;
  const { startAt, until } = trace.hold;
  const every = decimalIn(prompt.every, 'ms').toNumber();
  const things = Array.from({ length: Math.floor((until - startAt) / every + 1e-9) + 1 }, (_, k) => {
    const wanted = startAt + k * every;
    const near = trace.points.filter(([at]) => Math.abs(at - wanted) <= NEAR * every);
    const [first] = [...near].sort((a, b) => Math.abs(a[0] - wanted) - Math.abs(b[0] - wanted));
    const words: Words = first ? showQuantity({ value: significant(decimal(first[1])).toNumber(), unit: trace.unit }) : 'missed: nothing was read';
    return { name: showQuantity({ value: (k * every) / 60_000, unit: 'min' }), words };
  });
  return { title: `${stage.title}: ${prompt.text.charAt(0).toLowerCase()}${prompt.text.slice(1)}`, things };
}

/**
 * What a hold asks to be read again and again, as a table: each time with what was read then, and a time at which nothing was read said as missed. It is of the latest
 * attempt at the stage.
 * @returns a table for each prompt that asks for a reading and whose stage was held
 * @example ((r) => readingTables(r.plan, r.state))(exampleOf('suit.inflation', 'inflate')) // []: it asks for none
 */
export function readingTables(plan: Plan, state: RunState): readonly ToldList[] {
  return (plan.ruleSet.prompts ?? []).flatMap((prompt) => {
    const stage = prompt.reads ? plan.stages.find((s) => s.id === prompt.stage) : undefined;
    return (stage && tableOf(plan, state, stage, prompt)) ?? [];
  });
}
