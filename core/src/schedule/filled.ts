import { Temporal } from 'temporal-polyfill';

/**
 * How a rule treats a cylinder or tank that was filled before its test fell due: how many months longer it may be used; null until it is emptied, 0 not at all.
 * Standing's SQL is made from it too.
 */
export const filledRules = {
  untilEmptied: { months: null, words: 'it may be emptied after' },
  months: { months: 3, words: 'it may be used for 3 months after' },
  blocked: { months: 0, words: 'it is blocked all the same' },
} as const satisfies Readonly<Record<string, { readonly months: number | null; readonly words: string }>>;
export type FilledRule = keyof typeof filledRules;

/**
 * May it be filled on a day? Up to the due day, and not after.
 * @example mayBeFilled('2026-03-31', '2026-04-01') // false
 */
export function mayBeFilled(dueOn: string, on: string): boolean {
  return on <= dueOn;
}

/** The last day of what has no last day: as long as what is in it lasts. It sorts after every other. */
export const UNTIL_EMPTIED = '9999-12-31';

/**
 * The last day on which it may be used, or carried, because it was filled before its test fell due; the due day where it was not, or was emptied since.
 * @param filled when it was last filled, an ISO date or instant; null where nobody noted it
 * @param emptied the same of its emptying
 * @example usableUntil('untilEmptied', '2026-03-31', '2026-03-20', null) // '9999-12-31'
 * @example usableUntil('months', '2026-03-31', '2026-03-20', null) // '2026-06-30'
 */
export function usableUntil(rule: FilledRule | null, dueOn: string, filled: string | null, emptied: string | null): string {
  const longer = rule === null ? 0 : filledRules[rule].months;
  if (longer === 0 || filled === null || filled.slice(0, 10) > dueOn || (emptied !== null && emptied >= filled)) return dueOn;
  return longer === null ? UNTIL_EMPTIED : Temporal.PlainDate.from(dueOn).add({ months: longer }).toString();
}
