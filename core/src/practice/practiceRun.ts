import { procedureById, type Attributes, type Id, type Plan } from '../procedure';
import { planOfRun, type AssetCopy, type InstrumentCopy, type RunEvent, type RunState } from '../run';
import { perform, type Practice } from './perform';
import { setupFor } from './setup';

export interface PracticeRun {
  readonly plan: Plan;
  readonly opened: Practice['opened'];
  readonly state: RunState;
  readonly events: readonly RunEvent[];
}

export interface PracticeOptions extends Partial<Pick<Practice, 'answers' | 'readings' | 'seed' | 'breakOff' | 'name'>> {
  readonly startedAt?: string;
  readonly digest?: string;
  /** What the item says of itself besides what its bench has, and what it carries that may be used. */
  readonly attributes?: Attributes;
  readonly carries?: AssetCopy['carries'];
  /** Changes every instrument: to a coarser one, or one whose calibration has run out. */
  readonly instrument?: (copy: InstrumentCopy) => InstrumentCopy;
}

/**
 * Everything that a run needs besides the hand: the plan, the opening, the rig with its fault and gauges.
 * @throws RangeError when the procedure is not known or cannot be planned
 * @example practiceOf('suit.inflation', 'mbar-16.5', 'suit', 'zip end').fault // 'zip end'
 */
export function practiceOf(procedureId: Id, ruleSet: Id, rig: Id, fault: string, options: PracticeOptions = {}): Practice {
  const procedure = procedureById(procedureId);
  if (!procedure) throw new RangeError(`there is no procedure ${procedureId}`);
  const setup = setupFor(procedureId, ruleSet);
  const change = options.instrument ?? ((i: InstrumentCopy) => i);
  const opened: Practice['opened'] = {
    startedAt: options.startedAt ?? '2026-11-25T08:00:00.000Z',
    procedure: options.digest ?? '0'.repeat(64),
    ruleSet,
    assets: Object.fromEntries(
      Object.entries(setup.assets).map(([role, a]) => [
        role,
        { ...a, attributes: { ...a.attributes, ...options.attributes }, ...(options.carries ? { carries: options.carries } : {}) },
      ]),
    ),
    instruments: Object.fromEntries(Object.entries(setup.instruments).map(([channel, i]) => [channel, change(i)])),
    ...(setup.lists ? { lists: setup.lists } : {}),
    ...(setup.tables ? { tables: setup.tables } : {}),
    clock: 'simulated',
  };
  const made = planOfRun(procedure, opened);
  if (!made.ok) throw new RangeError(`no plan for ${procedureId}: ${made.refusal.code} ${JSON.stringify(made.refusal.values)}`);
  return {
    plan: made.plan,
    opened,
    rig,
    fault,
    sensors: setup.sensors,
    inputs: setup.inputs,
    readByHand: setup.readByHand,
    seed: options.seed ?? 5,
    readings: options.readings ?? 'samples',
    name: options.name ?? ((i) => `e${i}`),
    ...(options.answers ? { answers: options.answers } : {}),
    ...(options.breakOff ? { breakOff: options.breakOff } : {}),
  };
}

/**
 * Carries a procedure of the catalogue out on its own rig, with a seeded fault.
 * @param rig the rig's id
 * @throws RangeError when the procedure is not known or cannot be planned
 * @example ((r) => judge(r.plan, r.state).verdict)(practiceRun('suit.inflation', 'mbar-16.5', 'suit', 'none')) // 'pass'
 */
export function practiceRun(procedureId: Id, ruleSet: Id, rig: Id, fault: string, options: PracticeOptions = {}): PracticeRun {
  const practice = practiceOf(procedureId, ruleSet, rig, fault, options);
  const { events, state } = perform(practice);
  return { plan: practice.plan, opened: practice.opened, state, events };
}
