import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { PersonRow, RoundItemRow, RoundView } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { SelectModule } from 'primeng/select';
import { catchError, of, type Observable } from 'rxjs';
import { accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { Seal, type SealKind } from '../mark/seal';
import { Undo } from '../undo/undo';
import { RoundRuns } from './roundRuns';

const seals: Readonly<Record<RoundItemRow['stands'], SealKind>> = {
  left: 'none',
  open: 'none',
  passed: 'pass',
  failed: 'fail',
  again: 'undecided',
  elsewhere: 'pass',
};

/** What a round is to test, in order: how each item stands, who has it, and the key that begins the next. Taken, handed on and put back by ticking. */
@Component({
  selector: 'gr-round-items',
  imports: [ReactiveFormsModule, RouterLink, ButtonModule, CheckboxModule, SelectModule, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './roundItems.html',
  styleUrl: './roundItems.css',
})
export class RoundItems {
  readonly round = input.required<RoundView>();
  /** Whoever looks may work in it, and it is open. */
  readonly works = input(false);
  /** What the round looks like after something was done. */
  readonly changed = output<RoundView | null>();
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly runs = inject(RoundRuns);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  private readonly people = toSignal(this.api.people().pipe(catchError(() => of([] as readonly PersonRow[]))), { initialValue: [] });
  private readonly forms = inject(NonNullableFormBuilder);
  protected readonly ticks = this.forms.control<readonly string[]>([]);
  private readonly ticked = toSignal(this.ticks.valueChanges, { initialValue: [] as readonly string[] });
  /** To whom what is ticked is handed: chosen once, it is done. */
  protected readonly hand = this.forms.control<string | null>(null);
  protected readonly busy = signal(false);
  protected readonly startWord = $localize`Start`;
  protected readonly takeOverWord = $localize`Take over`;

  /** Those who test, to whom something can be handed. */
  protected readonly hands = computed(
    () =>
    this.people().filter((p) => !p.disabled && p.role !== 'reader' && p.id !== this.me()?.id).map((p) => ({ id: p.id, name: p.fullName })), // prettier-ignore
  );
  protected readonly waiting = computed(() => this.round().items.filter((i) => this.isLeft(i)));
  /** What is ticked and still waits: somebody else may have begun it meanwhile. */
  protected readonly chosen = computed(() => this.waiting().filter((i) => this.ticked().includes(i.asset)));
  /** Who has how much to do, and has done. */
  protected readonly shares = computed(() => {
    const found = new Map<string, { name: string; left: number; done: number }>();
    for (const i of this.round().items) {
      if (i.takenBy === null) continue;
      const of = found.get(i.takenBy.id) ?? { name: i.takenBy.name, left: 0, done: 0 };
      found.set(i.takenBy.id, this.isLeft(i) ? { ...of, left: of.left + 1 } : i.stands === 'open' ? of : { ...of, done: of.done + 1 });
    }
    return [...found.values()].map((s) => $localize`${s.name}:NAME:: ${s.done}:DONE: done, ${s.left}:LEFT: left`);
  });
  protected readonly free = computed(() => this.waiting().filter((i) => i.takenBy === null).length);

  protected isLeft(i: RoundItemRow): boolean {
    return i.stands === 'left' || i.stands === 'again';
  }

  protected isMine(i: RoundItemRow): boolean {
    return i.takenBy !== null && i.takenBy.id === this.me()?.id;
  }

  protected seal(i: RoundItemRow): SealKind {
    return seals[i.stands];
  }

  protected word(i: RoundItemRow): string {
    switch (i.stands) {
      case 'left':
        return $localize`left`;
      case 'open':
        return $localize`under test`;
      case 'passed':
        return $localize`passed`;
      case 'failed':
        return $localize`failed`;
      case 'again':
        return $localize`to be tested again`;
      case 'elsewhere':
        return $localize`passed outside this round`;
    }
  }

  protected all(): void {
    const every = this.waiting().map((i) => i.asset);
    this.ticks.setValue(this.chosen().length === every.length ? [] : every);
  }

  /** Gives what is ticked to somebody, group by group of who has it now: each is refused whole where one of it has moved meanwhile. */
  protected give(to: string | null): void {
    const groups = new Map<string | null, string[]>();
    for (const i of this.chosen()) groups.set(i.takenBy?.id ?? null, [...(groups.get(i.takenBy?.id ?? null) ?? []), i.asset]);
    this.hand.reset();
    for (const [from, assets] of groups) if (from !== to) this.ask(this.api.takeInRound(this.round().id, { assets, from, to }));
    this.ticks.setValue([]);
  }

  protected mine(): void {
    this.give(this.me()?.id ?? null);
  }

  /** Takes off the list what nobody has begun. */
  protected leaveOut(): void {
    for (const i of this.chosen()) this.ask(this.api.leaveOutOfRound(this.round().id, i.asset));
    this.ticks.setValue([]);
  }

  /** What the server answers is shown; where it refuses, what it knows is. */
  private ask(asked: Observable<unknown>): void {
    this.busy.set(true);
    asked.subscribe({
      next: (round) => {
        this.busy.set(false);
        this.changed.emit(typeof round === 'object' && round !== null && 'items' in round ? (round as RoundView) : null);
      },
      error: (e: unknown) => {
        this.busy.set(false);
        this.undo.refused(e);
        this.changed.emit(null);
      },
    });
  }

  /** Opens the run of an item; what another has is taken over, which the key says. */
  protected open(i: RoundItemRow): void {
    if (this.busy()) return;
    this.busy.set(true);
    this.runs.next(this.round().id, { code: i.tag, ...(i.takenBy !== null && !this.isMine(i) ? { takeOver: true } : {}) }).subscribe({
      next: () => this.busy.set(false),
      error: (e: unknown) => {
        this.busy.set(false);
        this.undo.refused(e);
        this.changed.emit(null);
      },
    });
  }
}
