import { TestBed } from '@angular/core/testing';
import type { PlanRules, WorkPlan } from '@grellin/core';
import { expose } from 'comlink';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { Planner } from './planner';

const made = { placed: [], setups: 0, early: 0, exact: true, over: [], crowded: null, benchless: [] } as unknown as WorkPlan;
const rules = { benches: [], weeks: { first: 0, slots: [] }, setupHours: 0, weeksForASetup: 0 } as PlanRules;

/** A planner that says how far it is only after it has given its plan: two ports keep no order between them. */
function lateWorker(): { readonly make: () => MessagePort; readonly said: () => Promise<unknown> } {
  let said: Promise<unknown> = Promise.resolve();
  // A plain function: it is called with `new`, and what it gives back is the worker.
  const make = function (): MessagePort {
    const { port1, port2 } = new MessageChannel();
    const plan = (_jobs: unknown, _rules: unknown, onProgress: (share: number) => Promise<void>): WorkPlan => {
      said = new Promise((done) => setTimeout(done, 20)).then(() => onProgress(1));
      return made;
    };
    expose({ plan }, port1);
    return Object.assign(port2, { terminate: () => undefined });
  };
  return { make, said: () => said };
}

describe('a planner', () => {
  afterEach(() => vi.unstubAllGlobals());

  it('says nothing more of how far it is once the plan is there', async () => {
    const worker = lateWorker();
    vi.stubGlobal('Worker', worker.make);
    TestBed.configureTestingModule({ providers: [Planner] });
    const shares: number[] = [];
    expect(await TestBed.inject(Planner).plan([], rules, (share) => shares.push(share))).toEqual(made);
    await worker.said();
    expect(shares).toEqual([]);
  });
});
