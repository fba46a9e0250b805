import { perform, type Practice } from '../../src/practice';
import { makePlan, procedureById, type Plan } from '../../src/procedure';
import type { InstrumentCopy, RunEvent, RunState } from '../../src/run';

/** A digital manometer for suits: 0–50 mbar, ±0.05 mbar, steps of 0.01. */
export const manometer: InstrumentCopy = {
  id: 'PL-01',
  fitted: false,
  low: { value: 0, unit: 'mbar' },
  high: { value: 50, unit: 'mbar' },
  resolution: { value: 0.01, unit: 'mbar' },
  accuracy: { value: 0.05, unit: 'mbar' },
  correlation: 0.9,
  calibrationDue: '2027-06-30',
};

/** One input of a pressure pair for air brakes: 0–200 psi, ±1 psi, steps of 0.1. */
export const brakeLogger: InstrumentCopy = {
  id: 'BP-01',
  fitted: false,
  low: { value: 0, unit: '[psi]' },
  high: { value: 200, unit: '[psi]' },
  resolution: { value: 0.1, unit: '[psi]' },
  accuracy: { value: 1, unit: '[psi]' },
  correlation: 0.97,
  calibrationDue: '2027-06-30',
};

export function planFor(procedureId: string, ruleSet: string, assets: Parameters<typeof makePlan>[3], edition = procedureById(procedureId)): Plan {
  const procedure = edition;
  if (!procedure) throw new Error(`no procedure ${procedureId}`);
  const made = makePlan(procedure, 'digest', ruleSet, assets);
  if (!made.ok) throw new Error(JSON.stringify(made.refusal));
  return made.plan;
}

export interface Performed {
  readonly plan: Plan;
  readonly state: RunState;
  readonly events: readonly RunEvent[];
}

type More = Partial<Pick<Practice, 'answers' | 'readings' | 'seed'>>;

const base = { name: (i: number): string => `e${i}`, readings: 'samples' as const, seed: 7 };
const startedAt = '2026-11-25T08:00:00.000Z';

export function suit(ruleSet: string, fault: string, more: More = {}): Performed {
  const attributes = { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } };
  const plan = planFor('suit.inflation', ruleSet, { suit: attributes });
  const done = perform({
    ...base,
    plan,
    opened: { startedAt, procedure: 'digest', ruleSet, assets: { suit: { id: 'GS-01', attributes } }, instruments: { suit: manometer }, clock: 'simulated' },
    rig: 'suit',
    fault,
    sensors: { p1: { unit: 'mbar', resolution: 0.01, noise: 0.01, zero: 0 } },
    inputs: { suit: 'p1' },
    ...more,
  });
  return { plan, ...done };
}

export function brakes(ruleSet: string, fault: string, more: More = {}): Performed {
  const attributes = { units: { value: ruleSet === 'combination' ? 2 : 1, unit: '1' } };
  const plan = planFor('brakes.applied-loss', ruleSet, { vehicle: attributes });
  const sensor = { unit: '[psi]', resolution: 0.1, noise: 0.05, zero: 0 };
  const instruments = { primary: brakeLogger, secondary: { ...brakeLogger, id: 'BP-02' } };
  const done = perform({
    ...base,
    plan,
    opened: { startedAt, procedure: 'digest', ruleSet, assets: { vehicle: { id: 'TR-01', attributes } }, instruments, clock: 'simulated' },
    rig: 'air-brakes',
    fault,
    sensors: { p1: sensor, p2: sensor },
    inputs: { primary: 'p1', secondary: 'p2' },
    ...more,
  });
  return { plan, ...done };
}
