import { DestroyRef, inject, Injectable } from '@angular/core';
import type { Lifts } from '@grellin/core';
import { transfer, wrap, type Remote } from 'comlink';
import type { TraceAnalysis } from './traceWorker';

/** Has traces analysed in a worker of its own, made when the first one comes. */
@Injectable()
export class TraceAnalyst {
  private worker: Worker | null = null;
  private analysis: Remote<TraceAnalysis> | null = null;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker?.terminate());
  }

  /** @param values are handed over to the worker: the caller has them no more */
  lifts(values: Float64Array, fs: number): Promise<Lifts> {
    if (!this.analysis) {
      this.worker = new Worker(new URL('./traceWorker', import.meta.url), { type: 'module' });
      this.analysis = wrap<TraceAnalysis>(this.worker);
    }
    return this.analysis.lifts(transfer(values, [values.buffer]), fs);
  }
}
