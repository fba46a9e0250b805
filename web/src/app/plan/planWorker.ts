import { workPlan, type PlanJob, type PlanRules, type WorkPlan } from '@grellin/core';
import { expose } from 'comlink';

/** Filling the weeks, off the main thread: twenty thousand tests must not hold the screen. */
const planning = {
  plan: (jobs: readonly PlanJob[], rules: PlanRules, onProgress: (share: number) => void): WorkPlan => workPlan(jobs, rules, onProgress),
};
export type Planning = typeof planning;

expose(planning);
