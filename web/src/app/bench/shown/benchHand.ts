import { computed, effect, inject, Injectable, signal } from '@angular/core';
import { Router } from '@angular/router';
import { NEVER_COMES, type Grade } from '@grellin/core';
import { AwayDoor } from '../../door/awayDoor';
import { Chime } from '../../preference/chime';
import { BenchRun } from './benchRun';
import { askings, type Asking, type AskingName } from '../ask/askings';
import type { KeyAct } from '../ask/keys';

/** What is to be sealed is shown this long before it can be: nobody seals with the press that answered the last question. */
const ARMED_AFTER_MS = 1500;

/** What a person at the bench does with keys and buttons: the primary action, what is only said with a reason, grades, and what lies open beside the run. */
@Injectable()
export class BenchHand {
  private readonly run = inject(BenchRun);
  private readonly chime = inject(Chime);
  private readonly router = inject(Router);
  private readonly door = inject(AwayDoor);
  /** What a reason is asked for. */
  readonly asking = signal<Asking | null>(null);
  /** The place that a grade is asked for, where it was tapped. */
  readonly graded = signal<string | null>(null);
  /** The calculator lies open beside the run. */
  readonly calculating = signal(false);
  /** A picture is being taken. */
  readonly picturing = signal(false);
  private readonly sealing = computed(() => this.run.view()?.next.kind === 'seal');
  /** Whether the seal may be pressed: what it releases has been shown for a moment. */
  readonly armed = signal(false);
  /** The sheet of keys. */
  readonly sheet = signal(false);

  constructor() {
    effect((cleanUp) => {
      this.armed.set(false);
      if (!this.sealing()) return;
      const timer = setTimeout(() => this.armed.set(true), ARMED_AFTER_MS);
      cleanUp(() => clearTimeout(timer));
    });
  }

  act(what: KeyAct): void {
    const of: Readonly<Partial<Record<KeyAct, () => void>>> = {
      press: () => this.press(),
      seal: () => this.seal(),
      sound: () => this.chime.toggle(),
      picture: () => this.picture(),
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
    const mayNeverCome = this.run.refusal({ kind: 'marked', mark: NEVER_COMES }) === null;
    const asking = askings[what]({ next: view.next, lastSaid: view.lastSaid, redo: this.run.redo(), mayNeverCome });
    if (asking) this.asking.set(asking);
  }

  given(reason: string): void {
    const asking = this.asking();
    this.asking.set(null);
    if (!asking) return;
    this.run.say(asking.body(reason));
    if (asking.then) this.run.say(asking.then(reason));
  }

  press(): void {
    const view = this.run.view();
    if (view?.next.kind === 'closed') {
      const record = this.run.bench().view?.record;
      if (record) void this.router.navigate(this.door.station() ? ['/along'] : ['/log', record]);
      return;
    }
    // The seal has a key of its own: the one that answers everything else does not release an item.
    if (view?.next.kind === 'seal') return;
    if (this.run.enabled() && view?.primary.body) this.run.say(view.primary.body);
  }

  /** Seals the record, once what it releases has stood on the screen for long enough to be read. */
  seal(): void {
    const view = this.run.view();
    if (view?.next.kind === 'seal' && this.armed() && this.run.enabled() && view.primary.body) this.run.say(view.primary.body);
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

  /** Opens what a picture is taken with, where one may be told of. */
  picture(): void {
    if (this.run.works() && this.run.view()?.next.kind !== 'closed') this.picturing.set(true);
  }

  /** A note of the run, as it stands: it is part of the record and judged by nothing. */
  note(note: string): void {
    this.calculating.set(false);
    this.run.say({ kind: 'amended', note });
  }
}
