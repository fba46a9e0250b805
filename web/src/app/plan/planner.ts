import { DestroyRef, inject, Injectable } from '@angular/core';
import type { PlanJob, PlanRules, WorkPlan } from '@grellin/core';
import { proxy, wrap, type Remote } from 'comlink';
import type { Planning } from './planWorker';

/** Has plans made in a worker of its own. A plan that is asked for while another is made takes its place. */
@Injectable()
export class Planner {
  private worker: Worker | null = null;
  private asked = 0;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker?.terminate());
  }

  /** @returns null when a later plan was asked for meanwhile */
  async plan(jobs: readonly PlanJob[], rules: PlanRules, onProgress: (share: number) => void): Promise<WorkPlan | null> {
    const mine = ++this.asked;
    this.worker?.terminate();
    this.worker = new Worker(new URL('./planWorker', import.meta.url), { type: 'module' });
    const planning: Remote<Planning> = wrap<Planning>(this.worker);
    // How far it is comes through a port of its own, and may arrive after the plan itself: then it is no news any more.
    let making = true;
    const made = await planning.plan(
      jobs,
      rules,
      proxy((share: number) => {
        if (making && mine === this.asked) onProgress(share);
      }),
    );
    making = false;
    return mine === this.asked ? made : null;
  }
}
