import type { AskingName } from './askings';

/** What a key can set going: a question with a reason, or something of the screen. */
export type KeyAct = AskingName | 'press' | 'seal' | 'sound' | 'calculator' | 'picture' | 'sheet' | 'close';

/** What each key does: the sheet that `?` opens is drawn from it. */
export const keys: readonly { readonly key: string; readonly act: KeyAct; readonly does: string }[] = [
  { key: 'Space', act: 'press', does: 'the one thing that comes next' },
  { key: 'Z', act: 'seal', does: 'seal the record; Space does not' },
  { key: 'N', act: 'no', does: 'no, with what is wrong' },
  { key: 'A', act: 'notApplicable', does: 'does not apply, with the reason' },
  { key: 'W', act: 'watch', does: 'passes, and is looked at again next time' },
  { key: 'L', act: 'leave', does: 'leave it to others to look for the leak' },
  { key: 'G', act: 'neverComes', does: 'what the step waits for never comes' },
  { key: 'U', act: 'takeBack', does: 'take back what was said last' },
  { key: 'R', act: 'again', does: 'do the stage again' },
  { key: 'T', act: 'touched', does: 'it was touched: note the disturbance' },
  { key: 'X', act: 'abandon', does: 'abandon the run' },
  { key: 'C', act: 'calculator', does: 'the calculator' },
  { key: 'P', act: 'picture', does: 'a picture of what is seen now' },
  { key: 'S', act: 'sound', does: 'sound on or off' },
  { key: '?', act: 'sheet', does: 'this sheet' },
  { key: 'Esc', act: 'close', does: 'close what lies open beside the run' },
];

const byKey = new Map(keys.map(({ key, act }) => [{ Space: ' ', Esc: 'escape' }[key] ?? key.toLowerCase(), act]));

/** Tells which key of the bench a person pressed, and when Space belongs to the button that stands in focus. */
export class BenchKeys {
  /** The person walks the buttons with Tab: Space then presses the one it stands on. After a touch or a click it is the primary action again. */
  private walking = false;

  pointed(): void {
    this.walking = false;
  }

  /** Whether a held key would press the button in focus over and over, or roll the page away: that is to be kept from it. */
  holdsDown(event: KeyboardEvent): boolean {
    const target = event.target instanceof HTMLElement ? event.target : null;
    if (!event.repeat || target?.matches('input, textarea, select')) return false;
    return event.key === ' ' || (event.key === 'Enter' && target?.matches('button, a') === true);
  }

  /** @returns what the press sets going; null when it is nothing of the bench's, or belongs to what it was typed into */
  pressed(event: KeyboardEvent): KeyAct | null {
    if (event.key === 'Tab') this.walking = true;
    // A key that is held says nothing again and again: only a fresh press answers.
    if (event.repeat) return null;
    const target = event.target instanceof HTMLElement ? event.target : null;
    if (event.ctrlKey || event.metaKey || event.altKey || target?.matches('input, textarea, select')) return null;
    if (event.key === ' ' && this.walking && target?.matches('button, a') && !target.matches('.primary')) return null;
    return byKey.get(event.key.toLowerCase()) ?? null;
  }
}
