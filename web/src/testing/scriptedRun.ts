import { emptyRun, foldAll, makePlan, procedureById, type EventBody, type InstrumentCopy, type Plan, type RunEvent, type RunState } from '@grellin/core';
import { perform } from '@grellin/core/practice';

const mbar = (value: number) => ({ value, unit: 'mbar' });
export const manometer: InstrumentCopy = {
  id: 'PL-01',
  fitted: false,
  low: mbar(0),
  high: mbar(50),
  resolution: mbar(0.01),
  accuracy: mbar(0.05),
  correlation: 0.9,
  calibrationDue: '2027-06-30',
};

export interface Ran {
  readonly plan: Plan;
  readonly events: readonly RunEvent[];
  /** The state after the first events that satisfy a test, or after all. */
  readonly upTo: (last: (e: RunEvent) => boolean) => RunState;
}

/** A suit test carried out on its rig, to be looked at from any moment of it. */
export function suitRun(fault = 'none', ruleSet = 'in-h2o-4'): Ran {
  const procedure = procedureById('suit.inflation');
  const attributes = { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } };
  const made = procedure && makePlan(procedure, 'd', ruleSet, { suit: attributes });
  if (!made?.ok) throw new Error('no plan');
  const { events } = perform({
    plan: made.plan,
    opened: {
      startedAt: '2026-11-25T08:00:00.000Z',
      procedure: 'd',
      ruleSet,
      assets: { suit: { id: 'GS-01', attributes } },
      instruments: { suit: manometer },
      clock: 'simulated',
    },
    rig: 'suit',
    fault,
    sensors: { p1: { unit: 'mbar', resolution: 0.01, noise: 0.01, zero: 0 } },
    inputs: { suit: 'p1' },
    seed: 5,
    readings: 'samples',
    name: (i) => `e${i}`,
  });
  return {
    plan: made.plan,
    events,
    upTo: (last) => {
      const i = events.findIndex(last);
      return foldAll(i < 0 ? events : events.slice(0, i + 1), emptyRun);
    },
  };
}

export const is = (body: Partial<EventBody> & { readonly kind: EventBody['kind'] }) => (e: RunEvent) =>
  Object.entries(body).every(([k, v]) => (e as unknown as Record<string, unknown>)[k] === v);
