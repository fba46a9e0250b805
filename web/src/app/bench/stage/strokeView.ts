import { decimalIn, holds, readingsOf, showQuantity, type MethodOf, type Next, type Plan, type RunState, type Stage } from '@grellin/core';

export interface StrokeSide {
  readonly channel: string;
  readonly title: string;
  readonly shown: string | null;
  /** 0 to 1 of the drawing's reach. */
  readonly share: number | null;
  readonly limit: string;
  readonly limitShare: number | null;
  readonly over: boolean;
  readonly here: boolean;
}

export interface StrokeAxle {
  readonly id: string;
  readonly title: string;
  readonly chamber: string;
  readonly sides: readonly [StrokeSide, StrokeSide];
  readonly difference: string | null;
}

/** The longest stroke that is drawn, in. */
const REACH_IN = 4;

/** The axles with what each side has been read at, against the limit of its chamber. */
export function strokeView(plan: Plan, state: RunState, stage: Stage, method: MethodOf<'stroke'>, n: Next): readonly StrokeAxle[] {
  const attempt = state.attempts[stage.id]?.at(-1);
  const side = (channel: string, title: string): StrokeSide => {
    const reading = attempt && readingsOf(state, channel).between(attempt.beganAt, Number.POSITIVE_INFINITY).at(-1);
    const limit = plan.limits.find((l) => l.stage === stage.id && l.of === 'stroke' && (l.channel ?? channel) === channel);
    const inches = reading ? decimalIn(reading, '[in_i]').toNumber() : null;
    const most = limit ? decimalIn(limit.resolved, '[in_i]').toNumber() : null;
    const strict = limit?.op === '<';
    return {
      channel,
      title,
      shown: reading ? showQuantity({ value: reading.value, unit: reading.unit }) : null,
      share: inches === null ? null : Math.min(1, inches / REACH_IN),
      limit: limit ? `${strict ? 'under' : 'at most'} ${showQuantity(limit.resolved)}` : 'no limit',
      limitShare: most === null ? null : Math.min(1, most / REACH_IN),
      over: inches !== null && most !== null && (strict ? inches >= most : inches > most),
      here: n.kind === 'read' && n.channel === channel,
    };
  };
  return method.axles
    .filter((a) => a.when === undefined || holds(a.when, plan.assets))
    .map((a, i) => {
      const sides = [side(a.left, 'left'), side(a.right, 'right')] as const;
      const both = [a.left, a.right].map((c) => readingsOf(state, c).at(-1));
      const [l, r] = both;
      const difference = sides.every((s) => s.shown !== null) && l && r ? Math.abs(decimalIn(l, '[in_i]').minus(decimalIn(r, '[in_i]')).toNumber()) : null;
      const chamber = Object.values(plan.assets)
        .map((attributes) => attributes[`chamber${String(i + 1)}`])
        .find((c) => typeof c === 'string');
      return {
        id: a.id,
        title: a.title,
        chamber: typeof chamber === 'string' ? `chamber type ${chamber}` : '',
        sides,
        difference: difference === null ? null : showQuantity({ value: Number(difference.toPrecision(4)), unit: '[in_i]' }),
      };
    });
}
