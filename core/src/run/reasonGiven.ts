import { askedItem } from '../method';
import type { Plan, Words } from '../procedure';
import type { EventKind, EventOf, Pictured, RunEvent } from './event';

/** Something that somebody said with a reason or a note of their own. */
export interface ReasonGiven {
  /** What was said: `Hold: broken off`. */
  readonly said: Words;
  /** The words that were typed. */
  readonly reason: Words;
}

/** Every kind of event that carries words of a person: a new one does not compile until it is said here. */
type Worded = { [K in EventKind]: 'reason' extends keyof EventOf<K> ? K : 'note' extends keyof EventOf<K> ? K : never }[EventKind];

const titled = (plan: Plan, id: string): string => plan.stages.find((s) => s.id === id)?.title ?? id;
const asked = (plan: Plan, id: string): string => askedItem(plan, id)?.text ?? id;
const answers = { yes: 'yes', no: 'no', notApplicable: 'does not apply', watch: 'passes, looked at again next time' } as const;

const shown: Readonly<Record<Pictured, Words>> = { look: 'a look', leak: 'a leak', plate: 'a plate', gauge: 'a gauge', other: 'something else' };

/**
 * What a picture is of, in words: what is asked there, where it was taken of that.
 * @example picturedInWords(exampleOf('suit.inflation', 'inflate').plan, { shows: 'gauge' }) // 'Picture of a gauge'
 */
export function picturedInWords(plan: Plan, { shows, item }: Pick<EventOf<'pictured'>, 'shows' | 'item'>): Words {
  return `Picture of ${shown[shows]}${item === undefined ? '' : `: ${asked(plan, item)}`}`;
}

const worded: { readonly [K in Worded]: (plan: Plan, e: EventOf<K>) => readonly [Words, Words | undefined] } = {
  began: (plan, e) => [`${titled(plan, e.stage)}: begun again`, e.reason],
  ended: (plan, e) => [`${titled(plan, e.stage)}: broken off`, e.reason],
  answered: (plan, e) => [`${asked(plan, e.item)}: ${answers[e.answer]}`, e.reason],
  withdrawn: (_, e) => ['Taken back', e.reason],
  disturbed: (_, e) => ['Touched', e.note],
  pictured: (plan, e) => [picturedInWords(plan, e), e.note],
  amended: (_, e) => ['Note', e.note],
  abandoned: (_, e) => ['The run: abandoned', e.reason],
};

/**
 * The reason that a statement carries, with what it is the reason of: a stage begun again or broken off, a run abandoned, an answer, something taken back, a
 * disturbance, a note.
 * @param plan names the stages and what is asked in them
 * @returns null for what carries no words of a person
 * @example reasonGiven(exampleOf('suit.inflation', 'inflate').plan, { id: 'e', source: 's', n: 1, at: 0, kind: 'ended', stage: 'inflate', attempt: 1, reason: 'a door slammed' })?.said // 'Inflate, settle and hold: broken off'
 */
export function reasonGiven(plan: Plan, event: RunEvent): ReasonGiven | null {
  const wording = worded as Readonly<Record<string, ((plan: Plan, e: RunEvent) => readonly [Words, Words | undefined]) | undefined>>;
  const [said, reason] = wording[event.kind]?.(plan, event) ?? [];
  return said === undefined || reason === undefined || reason === '' ? null : { said, reason };
}
