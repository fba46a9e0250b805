/** When something is owed besides by the calendar. */
export type UseTrigger = 'onReceipt' | 'beforeUse' | 'afterUse' | 'afterRepair' | 'afterDelivery' | 'beforeFumigation';

/** What can make a check owed. */
export type AskingOccasion = 'received' | 'used' | 'repaired' | 'delivered' | 'fumigated';
/** What happens to an item: what makes a check owed, and what goes into it and comes out. */
export type OccasionKind = AskingOccasion | 'filled' | 'emptied';

/** What each trigger waits for, and whether the check comes before it: then it is owed until it was done since the last time. Standing's SQL is made from it too. */
export const useTriggerRules: Readonly<Record<UseTrigger, { readonly occasion: AskingOccasion; readonly before: boolean; readonly words: string }>> = {
  onReceipt: { occasion: 'received', before: false, words: 'on receipt' },
  beforeUse: { occasion: 'used', before: true, words: 'before use' },
  afterUse: { occasion: 'used', before: false, words: 'after use' },
  afterRepair: { occasion: 'repaired', before: false, words: 'after repair' },
  afterDelivery: { occasion: 'delivered', before: false, words: 'after delivery' },
  beforeFumigation: { occasion: 'fumigated', before: true, words: 'before fumigation' },
};

export const useTriggers: readonly UseTrigger[] = Object.keys(useTriggerRules) as UseTrigger[];
export const occasionKinds: readonly OccasionKind[] = [...new Set(Object.values(useTriggerRules).map((w) => w.occasion)), 'filled', 'emptied'];

/** A trigger in words. @example triggerInWords('afterUse') // 'after use' */
export function triggerInWords(trigger: UseTrigger): string {
  return useTriggerRules[trigger].words;
}

/** What has happened to an item, the newest of each kind: ISO instants or dates of one kind, or null. What is left out never happened. */
export interface ItemHistory extends Readonly<Partial<Record<OccasionKind, string | null>>> {
  readonly done: string | null;
}

/**
 * Whether a check is owed by what happened: before use, unless it was done after the last use; after use, repair, receipt or a delivery, until it was done
 * after it.
 * @example owedByUse('afterUse', { done: '2026-01-01', used: '2026-02-01', repaired: null }) // true
 */
export function owedByUse(trigger: UseTrigger, history: ItemHistory): boolean {
  const { occasion, before } = useTriggerRules[trigger];
  const { done } = history;
  const since = history[occasion] ?? null;
  if (before) return done === null || (since !== null && done <= since);
  return since !== null && (done === null || done <= since);
}
