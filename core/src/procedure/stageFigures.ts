import type { Unit } from '../quantity';
import type { Channel, Id, Procedure, RuleSet, Stage } from './language';
import { methodFigures } from './method';

/** A figure that a rule set must lay down. */
interface NeededFigure {
  readonly id: Id;
  /** A unit that the figure must be of one kind with. */
  readonly like: Unit;
}

/**
 * Every figure that a stage needs under a rule set, with a unit of its kind.
 * @example ((r) => figuresOf(r.stage, r.plan.ruleSet, procedureById('suit.inflation')).map((f) => f.id))(exampleOf('suit.inflation', 'inflate')) // ['fillLow', 'fillHigh', 'settle', 'startLow', 'startHigh', 'hold', 'startLow', 'startHigh', 'fillHigh']
 */
export function figuresOf(stage: Stage, ruleSet: RuleSet, p: Procedure): readonly NeededFigure[] {
  const unitOf = (channel: Channel): Unit => p.channels[channel]?.unit ?? '';
  const steps = stage.steps
    .filter((s) => !ruleSet.skip.includes(s.id))
    .flatMap((s): NeededFigure[] => {
      if (s.kind === 'wait') return [{ id: s.s, like: 's' }];
      if (s.kind !== 'reach') return [];
      const window = [s.low, s.high].map((id) => ({ id, like: unitOf(s.channel) }));
      return s.fills ? [...window, { id: s.fills.most, like: 'L/min' }] : window;
    });
  return [...steps, ...methodFigures(stage.method, unitOf)];
}
