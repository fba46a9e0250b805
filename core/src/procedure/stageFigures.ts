import type { Unit } from '../quantity';
import type { Channel, Id, Procedure, RuleSet, Stage, Step } from './language';
import { channelsRead, methodFigures, shownChannels, shownFigures } from './method';

/** A figure that a rule set must lay down. */
interface NeededFigure {
  readonly id: Id;
  /** A unit that the figure must be of one kind with. */
  readonly like: Unit;
}

/**
 * Every figure that a stage needs under a rule set, with a unit of its kind.
 * @example ((r) => figuresOf(r.stage, r.plan.ruleSet, procedureById('suit.inflation')).map((f) => f.id))(exampleOf('suit.inflation', 'inflate')) // ['fillLow', 'fillHigh', 'settle', 'keepLow', 'keepHigh', 'asWarm', 'startLow', 'startHigh', 'hold', 'startLow', 'startHigh', 'fillHigh']
 */
export function figuresOf(stage: Stage, ruleSet: RuleSet, p: Procedure): readonly NeededFigure[] {
  const unitOf = (channel: Channel): Unit => p.channels[channel]?.unit ?? '';
  const steps = stage.steps
    .filter((s) => !ruleSet.skip.includes(s.id))
    .flatMap((s): NeededFigure[] => {
      const shown = s.kind === 'reach' ? [] : shownFigures(s).flatMap(({ id, in: like }) => (id === undefined ? [] : [{ id, like: unitOf(like[0] ?? '') }]));
      if (s.kind === 'act') return shown;
      if (s.kind === 'wait')
        return [{ id: s.s, like: 's' }, ...(s.keep ? [s.keep.low, s.keep.high].map((id) => ({ id, like: unitOf(s.keep?.channel ?? '') })) : []), ...shown];
      const window = [s.low, s.high].map((id) => ({ id, like: unitOf(s.channel) }));
      return s.fills ? [...window, { id: s.fills.most, like: 'L/min' }] : window;
    });
  return [...steps, ...methodFigures(stage.method, unitOf)];
}

/**
 * What the channels of a procedure ask of their instruments, each with a unit of its kind.
 * @example askedFigures(procedureById('valve.vent'), ['flow']) // [{ id: 'calibrated', like: 'd' }]
 */
export function askedFigures(p: Procedure, channels: readonly Channel[]): readonly NeededFigure[] {
  return channels.flatMap((channel): NeededFigure[] => {
    const { unit = '', asks } = p.channels[channel] ?? {};
    return [
      ...(asks?.upTo === undefined ? [] : [{ id: asks.upTo, like: unit }]),
      ...(asks?.calibratedWithin === undefined ? [] : [{ id: asks.calibratedWithin, like: 'd' }]),
    ];
  });
}

/**
 * The channels that a step looks at: what it brings into a window, keeps there, or shows to be done.
 * @example stepChannels({ id: 'off', text: 'Off', kind: 'act', shown: { channel: 'engine', high: 'stopped' } }) // ['engine']
 */
export function stepChannels(step: Step): readonly Channel[] {
  if (step.kind === 'reach') return [step.channel];
  return [...(step.kind === 'wait' && step.keep ? [step.keep.channel] : []), ...shownChannels(step)];
}

/**
 * The channels that a stage looks at, by its steps and by its method.
 * @example channelsOf(exampleOf('suit.inflation', 'inflate').stage) // ['suit', 'inside', 'outside']
 */
export function channelsOf(stage: Pick<Stage, 'steps' | 'method'>): readonly Channel[] {
  return [...new Set([...channelsRead(stage.method), ...stage.steps.flatMap(stepChannels)])];
}
