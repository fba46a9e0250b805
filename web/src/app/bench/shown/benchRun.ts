import { computed, inject, Injectable } from '@angular/core';
import { Store } from '@ngrx/store';
import { sentBack, type EventBody } from '@grellin/core';
import { accountFeature } from '../../account/accountStore';
import { benchView } from '../ask/benchView';
import { rigAskOf } from '../rig/rigAsk';
import { UnitChoice } from '../../preference/unitChoice';
import { BenchActions, benchFeature } from '../session/benchStore';
import { gateOf, refusalOf } from '../session/gate';

/** The run that stands on the bench, as every part of the screen sees it, and the one way to say something of it. */
@Injectable()
export class BenchRun {
  private readonly store = inject(Store);
  private readonly units = inject(UnitChoice);
  private readonly me = this.store.selectSignal(accountFeature.selectMe);

  readonly bench = this.store.selectSignal(benchFeature.selectBenchState);
  /** The run's clock, ms. */
  readonly now = this.store.selectSignal(benchFeature.selectNow);
  /** This browser holds the run's lease. */
  readonly mine = this.store.selectSignal(benchFeature.selectMine);
  readonly mayWork = computed(() => this.me()?.role !== 'reader');
  /** Somebody here may say something of the run. */
  readonly works = computed(() => this.mine() && this.mayWork());
  readonly view = computed(() => {
    const { plan, run } = this.bench();
    return plan ? benchView(plan, run, this.now(), this.units.choices()) : null;
  });
  /** What the rig's hand and eye are asked for. */
  readonly rigAsk = computed(() => rigAskOf(this.bench().view?.procedure ?? '', this.view()?.next), {
    equal: (a, b) => JSON.stringify(a) === JSON.stringify(b),
  });
  /** How many events are drawn, of every source. */
  readonly position = computed(() => Object.values(this.bench().run.sources).reduce((sum, s) => sum + s.n, 0));
  /** Why the primary action is not open yet; null when it is. */
  readonly notYet = gateOf(
    this.bench,
    computed(() => this.view()?.primary.body ?? null),
    this.now,
  );
  readonly enabled = computed(() => this.works() && this.view()?.primary.body !== null && this.notYet() === null);
  /** The stage that decided nothing and sent to something else: it is done again once that is mended. */
  readonly sent = computed(() => {
    const { plan, run } = this.bench();
    return plan && this.view()?.next.kind !== 'closed' ? sentBack(plan, run) : null;
  });
  /** The stage that could be tried again now. */
  readonly redo = computed(() => {
    const view = this.view();
    const stage = this.sent()?.stage ?? view?.judged?.stage ?? view?.stage;
    if (!stage || view?.next.kind === 'closed') return null;
    const attempt = (this.bench().run.attempts[stage.id]?.at(-1)?.attempt ?? 0) + 1;
    if (attempt === 1) return null;
    return this.refusal({ kind: 'began', stage: stage.id, attempt, reason: 'x' }) === null ? { stage, attempt } : null;
  });

  /** Why something may not be said now, in words; null when it may. */
  refusal(body: EventBody): string | null {
    return refusalOf(this.bench(), this.now(), body);
  }

  say(body: EventBody): void {
    this.store.dispatch(BenchActions.stated({ body }));
  }
}
