import type { Quantity } from '../../quantity';
import type { AttributeRef, Channel, Condition, Id, OnSetUp, Value, Words } from '../term';
import { MINUTES, type Figure, type MethodFacts } from './facts';

export interface CheckItem extends OnSetUp {
  readonly id: Id;
  readonly text: Words;
  /** One line for whoever does it for the first time: why it is looked at. */
  readonly why?: Words;
  /** The drawing of what a hand does there. */
  readonly drawing?: Id;
  /** Between sound and bad there is what passes and is looked at again: described, and found in the record the next time. */
  readonly watch?: true;
  /** A 'no' here ends the test at once. */
  readonly automatic?: true;
  /** The item need not apply to every asset; the answer then needs a reason. */
  readonly optional?: true;
  /** A 'no' here decides nothing of the item: what it sends to is looked at first. A poppet that shows nothing says that tanks are not tied, and not that they leak. */
  readonly sends?: Words;
  /** A 'no' here condemns the item: it never returns. */
  readonly condemns?: true;
  /** Where the channel is fitted its gauge answers, and the person only confirms what it shows. */
  readonly shown?: Shown;
  /** Parameter: how long it is looked at before it can be answered with yes. */
  readonly for?: Id;
  /** The hand is the gauge: a bag is kept taut, a suit springs back. It takes its time, and stands only in a rule set that says it goes by feel. */
  readonly feels?: true;
  /**
   * How often it is done, or the parameter that says so of the items at hand: each time is an answer of its own, so that what is counted has been counted. It takes its
   * time (`for`) each time. Of none nothing is asked.
   */
  readonly times?: number | Id;
  /** What is not fitted to an item is not asked about; what nobody knows of is asked of the item before a run. */
  readonly when?: Condition;
  /** Left out where this is said of the item at hand: what it names answers for itself, and nobody's word is asked. */
  readonly unless?: AttributeRef;
  /** Figures that it is asked with, each called by a word. Where nobody has told what they come from it is not asked. */
  readonly says?: readonly { readonly words: Words; readonly value: Value }[];
}

/**
 * What a gauge shows when the answer is yes. `low`, `high`, `within`, `after` and `from` name parameters. With `after`, it counts only on a gauge that showed at
 * least that much earlier in the run: nothing shown by a gauge that never showed anything is no evidence. With `from`, only where it showed that much in the same
 * attempt: what falls must have stood just before. With `fresh`, the gauge is read while the item is looked at, and not before.
 */
export type Shown =
  | { readonly channel: Channel; readonly low?: Id; readonly high?: Id; readonly after?: Id; readonly from?: Id; readonly fresh?: true }
  | { /** Two gauges. */ readonly agree: readonly Channel[]; readonly within: Id };

export interface CheckMethod {
  readonly kind: 'check';
  readonly items: readonly CheckItem[];
}

export interface CheckReasons {
  /** The gauge shows otherwise than was answered. */
  shownOtherwise: { readonly item: Words; readonly value: Quantity; readonly low?: Quantity; readonly high?: Quantity };
  gaugesDiffer: { readonly item: Words; readonly difference: Quantity; readonly limit: Quantity };
  neverShown: { readonly item: Words; readonly least: Quantity };
  /** Nothing that could be read stands behind the answer. */
  notMeasured: { readonly items: Words };
  /** No gauge stands behind it: what a hand can find this way, and what it cannot. */
  byFeel: { readonly finds: Words; readonly misses: Words };
  /** What stands behind the answer is a gauge out of its calibration. */
  shownUncalibrated: { readonly items: Words };
  answeredAll: { readonly items: Words };
  /** It passes, and is looked at again next time. */
  watched: { readonly item: Words; readonly note: Words };
  answeredNo: { readonly item: Words; readonly note?: Words };
}

/** What somebody says or does, and what a gauge would show of it. */
export interface Showing {
  readonly text: Words;
  readonly shown?: Shown;
}

/** The channels whose gauges answer an item, or show that a step was done, where they are fitted. */
export const shownChannels = ({ shown }: Pick<Showing, 'shown'>): readonly Channel[] =>
  shown === undefined ? [] : 'agree' in shown ? shown.agree : [shown.channel];

/**
 * The figures that say what a gauge shows, each in what its channels read.
 * @example shownFigures({ shown: { channel: 'suit', low: 'startLow' } }) // [{ id: 'startLow', in: ['suit'] }]
 */
export function shownFigures(of: Pick<Showing, 'shown'>): readonly Figure[] {
  const { shown } = of;
  if (shown === undefined) return [];
  const named = 'agree' in shown ? [shown.within] : [shown.low, shown.high, shown.after, shown.from];
  return named.flatMap((id) => (id === undefined ? [] : [{ id, in: shownChannels(of) }]));
}

export const checkFacts: MethodFacts<CheckMethod> = {
  measures: {},
  needsNoLimit: true,
  atRest: true,
  findsLeaks: (m) => m.items.some((i) => i.feels),
  reads: (m) => [...new Set(m.items.flatMap((i) => shownChannels(i)))],
  finds: () => [],
  figures: (m) =>
    m.items.flatMap((i): readonly Figure[] => {
      const timed: readonly Figure[] = i.for === undefined ? [] : [{ id: i.for, in: 's' }];
      const counted: readonly Figure[] = typeof i.times === 'string' ? [{ id: i.times, in: '1' }] : [];
      return [...timed, ...counted, ...shownFigures(i)];
    }),
  parts: (m) => m.items.map((x) => `item ${x.id}`),
  minutes: (m) => m.items.length * MINUTES.item,
};
