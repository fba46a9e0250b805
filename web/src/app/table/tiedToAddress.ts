import { effect, type Signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { FormGroup } from '@angular/forms';
import { debounceTime } from 'rxjs';

/** Long enough that a word is typed, short enough that nobody waits, ms. */
const TYPING_MS = 300;

type Given = Readonly<Record<string, string | null | undefined>>;

/**
 * Ties the fields that narrow a list to the question in the address: what is typed is asked a moment later, and what comes by a link or the way back stands
 * in the fields. What a person types meanwhile is never taken out of their hand by the answer to what they typed before. Called where a component is made.
 * @param form one control a part of the question, of its name
 */
export function tiedToAddress(form: FormGroup, query: Signal<Given>, ask: (given: Given) => void): void {
  const names = Object.keys(form.controls);
  const textOf = (given: Given): string => JSON.stringify(names.map((name) => given[name] ?? ''));
  let own: string | null = null;
  effect(() => {
    const asked = query();
    if (textOf(asked) !== own) form.reset({ ...asked }, { emitEvent: false });
    own = null;
  });
  form.valueChanges.pipe(debounceTime(TYPING_MS), takeUntilDestroyed()).subscribe((given: Given) => {
    if (textOf(given) === textOf(query())) return;
    own = textOf(given);
    ask(given);
  });
}
