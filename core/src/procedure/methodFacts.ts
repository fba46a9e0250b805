import type { Dimension, Unit } from '../quantity';
import type { Channel, Id, Measure, Method, MethodKind, Procedure, RuleSet, Stage } from './language';

/** What each method can measure, and in what; `read` stands for whatever the channel reads. */
export const measured: Readonly<Record<MethodKind, Readonly<Partial<Record<Measure, Dimension | 'read'>>>>> = {
  decay: {
    loss: 'pressure',
    lossPerMinute: 'pressure',
    end: 'pressure',
    ratio: 'number',
    change: 'pressure',
    firstDrop: 'pressure',
    graduations: 'number',
  },
  halfLife: { time: 'time' },
  makeUpFlow: { flow: 'flow' },
  eventPressure: { pressure: 'read', count: 'number', flow: 'flow' },
  elapsed: { time: 'time' },
  expansion: { percent: 'number', elastic: 'volume', total: 'volume', permanent: 'volume', deviation: 'number' },
  relief: { pressure: 'pressure', blowdown: 'number', spread: 'pressure' },
  survey: { grade: 'number' },
  stroke: { stroke: 'length', difference: 'length' },
  check: {},
};

/** Methods that need no limit row: their own rule says what is in order. */
export const judgedWithoutLimit: ReadonlySet<MethodKind> = new Set(['check']);

/** The channels that a method reads. */
export function channelsRead(method: Method): readonly Channel[] {
  switch (method.kind) {
    case 'decay':
      return [...method.channels, ...(method.gas?.temperature ? [method.gas.temperature] : []), ...(method.gas?.barometer ? [method.gas.barometer] : [])];
    case 'eventPressure':
      return method.channels;
    case 'halfLife':
    case 'relief':
      return [method.channel];
    case 'elapsed':
      return method.speed === undefined ? [method.channel] : [method.channel, method.speed];
    case 'makeUpFlow':
      return [method.pressure, method.flow];
    case 'expansion':
      return [method.pressure, method.water, ...(method.temperature === undefined ? [] : [method.temperature])];
    case 'stroke':
      return method.axles.flatMap((a) => [a.left, a.right]);
    case 'survey':
    case 'check':
      return [];
  }
}

/** The channels that a limit may name: those that yield a finding. */
export function limitedChannels(method: Method): readonly Channel[] {
  if (method.kind === 'makeUpFlow') return [method.flow];
  if (method.kind === 'expansion') return [method.water];
  return method.kind === 'decay' ? method.channels : channelsRead(method);
}

interface NeededFigure {
  readonly id: Id;
  /** A unit that the figure must be of one kind with. */
  readonly like: Unit;
}

function methodFigures(method: Method, unitOf: (channel: Channel) => Unit): readonly NeededFigure[] {
  const all = (ids: readonly (Id | undefined)[], like: Unit): NeededFigure[] => ids.filter((id) => id !== undefined).map((id) => ({ id, like }));
  switch (method.kind) {
    case 'decay':
      return [...all([method.hold], 's'), ...all([method.start.low, method.start.high, method.top], unitOf(method.channels[0] ?? ''))];
    case 'halfLife':
      return all([method.start.low, method.start.high], unitOf(method.channel));
    case 'makeUpFlow':
      return [...all([method.hold], 's'), ...all([method.band.low, method.band.high], unitOf(method.pressure))];
    case 'elapsed':
      return all([method.from, method.to], unitOf(method.channel));
    case 'expansion':
      return [
        ...all([method.hold], 's'),
        ...all([method.test.low, method.test.high, method.test.repeatLow, method.test.repeatHigh], unitOf(method.pressure)),
        ...all([method.mass], 'kg'),
        ...all([method.certificate], unitOf(method.water)),
      ];
    case 'relief':
      return all([method.set], unitOf(method.channel));
    case 'eventPressure':
    case 'survey':
    case 'stroke':
    case 'check':
      return [];
  }
}

/** Every figure that a stage needs under a rule set, with a unit of its kind. */
export function figuresOf(stage: Stage, ruleSet: RuleSet, p: Procedure): readonly NeededFigure[] {
  const unitOf = (channel: Channel): Unit => p.channels[channel]?.unit ?? '';
  const steps = stage.steps
    .filter((s) => !ruleSet.skip.includes(s.id))
    .flatMap((s): NeededFigure[] => {
      if (s.kind === 'wait') return [{ id: s.s, like: 's' }];
      return s.kind === 'reach' ? [s.low, s.high].map((id) => ({ id, like: unitOf(s.channel) })) : [];
    });
  return [...steps, ...methodFigures(stage.method, unitOf)];
}
