import { inject, Injectable, signal } from '@angular/core';
import { Router } from '@angular/router';
import type { Grade } from '@grellin/core';
import { Chime } from '../../preference/chime';
import { BenchRun } from './benchRun';
import { askings, type Asking, type AskingName } from '../ask/askings';
import type { KeyAct } from '../ask/keys';

/** What a person at the bench does with keys and buttons: the primary action, what is only said with a reason, grades, and what lies open beside the run. */
@Injectable()
export class BenchHand {
  private readonly run = inject(BenchRun);
  private readonly chime = inject(Chime);
  private readonly router = inject(Router);
  /** What a reason is asked for. */
  readonly asking = signal<Asking | null>(null);
  /** The place that a grade is asked for, where it was tapped. */
  readonly graded = signal<string | null>(null);
  /** The calculator lies open beside the run. */
  readonly calculating = signal(false);
  /** The sheet of keys. */
  readonly sheet = signal(false);

  act(what: KeyAct): void {
    const of: Readonly<Partial<Record<KeyAct, () => void>>> = {
      press: () => this.press(),
      sound: () => this.chime.toggle(),
      calculator: () => this.calculating.update((open) => !open),
      sheet: () => this.sheet.update((open) => !open),
      close: () => {
        this.sheet.set(false);
        this.calculating.set(false);
      },
    };
    const own = of[what];
    if (own) own();
    else this.ask(what as AskingName);
  }

  /** Asks for the reason of what is only said with one; nothing where it cannot be said now. */
  ask(what: AskingName): void {
    const view = this.run.view();
    if (!view || !this.run.mine()) return;
    const asking = askings[what]({ next: view.next, lastSaid: view.lastSaid, redo: this.run.redo() });
    if (asking) this.asking.set(asking);
  }

  given(reason: string): void {
    const asking = this.asking();
    this.asking.set(null);
    if (asking) this.run.say(asking.body(reason));
  }

  press(): void {
    const view = this.run.view();
    if (view?.next.kind === 'closed') {
      const record = this.run.bench().view?.record;
      if (record) void this.router.navigate(['/log', record]);
      return;
    }
    if (this.run.enabled() && view?.primary.body) this.run.say(view.primary.body);
  }

  /** A place of the route, with how hard it bubbled. */
  grade(grade: Grade): void {
    const n = this.run.view()?.next;
    const spot = this.graded() ?? (n?.kind === 'spot' ? n.spot.id : null);
    this.graded.set(null);
    if (spot !== null && this.run.mine()) this.run.say({ kind: 'spotted', spot, grade });
  }

  /** A place tapped on the drawing: the one that is soaped now, or one that has been looked at and has grown worse. */
  tapped(spot: string): void {
    const n = this.run.view()?.next;
    if (!n || !this.run.works()) return;
    const now = n.kind === 'spot' && n.spot.id === spot;
    if (now || this.run.refusal({ kind: 'spotted', spot, grade: 'grows' }) === null) this.graded.set(spot);
  }

  /** A note of the run, as it stands: it is part of the record and judged by nothing. */
  note(note: string): void {
    this.calculating.set(false);
    this.run.say({ kind: 'amended', note });
  }
}
