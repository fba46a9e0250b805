import { formatDate } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { AssetRow, Readiness, Some } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Allowance } from '../mark/allowance';
import { Seal, type SealKind } from '../mark/seal';
import { standingSeal } from '../mark/standingSeal';
import { StartDay } from '../round/startDay';
import { FirstDay } from './firstDay';
import { TodayActions, todayFeature } from './todayStore';

interface Section {
  readonly id: string;
  readonly title: string;
  readonly column: string;
  readonly action: string;
  readonly state: Readiness;
  readonly rows: readonly AssetRow[];
  readonly more: boolean;
}

/** What may not be used, what is late, what falls due, what is running. Each line starts the work it names. */
@Component({
  selector: 'gr-today',
  imports: [RouterLink, Allowance, FirstDay, Seal, StartDay],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './today.html',
  styleUrl: './today.css',
})
export class Today {
  private readonly store = inject(Store);
  protected readonly today = this.store.selectSignal(todayFeature.selectValue);
  private readonly me = this.store.selectSignal(accountFeature.selectMe);
  /** There is work today that whoever looks may do. */
  protected readonly works = computed(() => {
    const t = this.today();
    return t !== null && this.me() !== null && this.me()?.role !== 'reader' && [t.checkFirst, t.overdue, t.neverTested, t.due].some((s) => s.rows.length > 0);
  });
  protected readonly problem = this.store.selectSignal(todayFeature.selectProblem);
  protected readonly date = computed(() => {
    const date = this.today()?.date;
    return date === undefined ? 'Today' : formatDate(date, 'EEEE d MMMM', 'en');
  });
  protected readonly sections = computed((): readonly Section[] => {
    const t = this.today();
    if (!t) return [];
    return [
      { id: 'blocked', title: 'May not be used', column: 'why', action: 'Retest', state: 'blocked' as const, ...t.blocked },
      { id: 'condemned', title: 'Condemned, and not yet put beyond use', column: 'why', action: 'See to it', state: 'condemned' as const, ...t.condemned },
      { id: 'held', title: 'Held back: a test without a result', column: 'why', action: 'Test again', state: 'heldBack' as const, ...t.heldBack },
      { id: 'check-first', title: 'Check before use', column: 'what', action: 'Check', state: 'checkFirst' as const, ...t.checkFirst },
      { id: 'overdue', title: 'Late', column: 'by', action: 'Start', state: 'overdue' as const, ...t.overdue },
      { id: 'use-up', title: 'Late, to be used up and not filled', column: 'since', action: 'Start', state: 'useUp' as const, ...t.useUp },
      { id: 'untested', title: 'Not yet tested', column: 'what', action: 'Start', state: 'neverTested' as const, ...t.neverTested },
      { id: 'due', title: 'Due in the next two weeks', column: 'on', action: 'Start', state: 'due' as const, ...t.due },
    ].filter((s) => s.rows.length > 0);
  });

  /** Nothing at all: what a station has on its first day, and seldom later. */
  protected readonly nothing = computed(() => {
    const t = this.today();
    return t !== null && this.sections().length === 0 && t.running.length === 0 && t.kits.length === 0;
  });

  constructor() {
    this.store.dispatch(TodayActions.opened());
  }

  protected again(): void {
    this.store.dispatch(TodayActions.opened());
  }

  protected count(some: Some<AssetRow>): string {
    return some.more ? `more than ${String(some.rows.length)}` : String(some.rows.length);
  }

  protected sealOf(asset: AssetRow): SealKind {
    return standingSeal(asset.readiness);
  }

  protected inDays(days: number): string {
    return days < 0 ? 'calibration ran out' : days === 0 ? 'calibration ends today' : `calibration ends in ${days} days`;
  }
}
