import type { Quantity, Unit } from '../../quantity';
import type {
  Channel,
  CheckItem,
  Comparison,
  Condition,
  Id,
  Limit,
  Measure,
  Method,
  OnSetUp,
  Parameter,
  Phase,
  Role,
  Source,
  Stage,
  Step,
  Value,
  Words,
} from '../language';
import { commonPractice } from '../source';

/** The parts that every document of the catalogue is written with, so that the documents read as tables. */

export const inH2O: Unit = "[in_i'H2O]";
export const psi: Unit = '[psi]';
export const gallon: Unit = '[gal_us]';
export const torque: Unit = '[ft_i].[lbf_av]';

export const of = (value: number, unit: Unit): Quantity => ({ value, unit });

/** A figure of a rule set with its source. */
export const figure = (value: Value, source: Source = commonPractice): Parameter => ({ value, source });
export const pressure = (value: number, unit: Unit, source: Source = commonPractice): Parameter => figure(of(value, unit), source);
export const seconds = (value: number, source: Source = commonPractice): Parameter => figure(of(value, 's'), source);
export const minutes = (value: number, source: Source = commonPractice): Parameter => figure(of(value, 'min'), source);

export const item = (id: Id, text: Words, rest: Omit<CheckItem, 'id' | 'text'> = {}): CheckItem => ({ id, text, ...rest });
export const act = (id: Id, text: Words, onSetUp: OnSetUp & Pick<Extract<Step, { kind: 'act' }>, 'shown' | 'stays'> = {}): Step => ({
  id,
  kind: 'act',
  text,
  ...onSetUp,
});
export const wait = (id: Id, s: Id, text: Words): Step => ({ id, kind: 'wait', s, text });
export const reach = (id: Id, channel: Id, low: Id, high: Id, text: Words): Extract<Step, { kind: 'reach' }> => ({
  id,
  kind: 'reach',
  channel,
  low,
  high,
  text,
});

type More = Partial<Pick<Stage, 'when' | 'attempts' | 'onFail' | 'each' | 'byNight' | 'proves'>>;

/**
 * A stage that measures. It goes on when it fails, unless said otherwise.
 * @example test('hold', 'suit', 'Hold', [], { kind: 'check', items: [] }).phase // 'test'
 */
export function test(id: Id, role: Role, title: Words, steps: readonly Step[], method: Method, more: More & { readonly phase?: Phase } = {}): Stage {
  return { id, role, title, attempts: 3, onFail: 'continue', phase: 'test', steps, method, ...more };
}

/**
 * A stage in which something happens, and the pressure at which it does is read.
 * @example event('alarm', 'set', 'Alarm', [], 'remote', 'alarm-starts', 'It starts').method.kind // 'eventPressure'
 */
export const event = (id: Id, role: Role, title: Words, steps: readonly Step[], channel: Channel, mark: Id, text: Words): Stage =>
  test(id, role, title, steps, { kind: 'eventPressure', channels: [channel], mark, text });

/**
 * A stage of looks. One before the test ends the run when something is not in order; aftercare goes on.
 * @example look('gather', 'suit', 'Make safe', 'gather', []).onFail // 'endRun'
 */
export function look(id: Id, role: Role, title: Words, phase: Phase, items: readonly CheckItem[], more: More = {}): Stage {
  return {
    id,
    role,
    title,
    attempts: 3,
    onFail: phase === 'aftercare' || phase === 'test' ? 'continue' : 'endRun',
    phase,
    steps: [],
    method: { kind: 'check', items },
    ...more,
  };
}

/** A place takes this long to soap and to look at. Common practice. */
export const soapTime: Readonly<Record<'soapEach', Parameter>> = { soapEach: { value: of(5, 's'), source: commonPractice } };

/**
 * Where something leaks is looked for with soap once it has failed, place by place and while it is kept under pressure.
 * @example search('find', 'suit', ['hold'], 'gas-tight-suit', [], [['zip', 'Zip']]).seeks // ['hold']
 */
export const search = (id: Id, role: Id, seeks: readonly Id[], outline: Id, steps: readonly Step[], route: readonly (readonly [Id, Words])[]): Stage => ({
  ...test(id, role, 'Where does it leak?', steps, {
    kind: 'survey',
    outline,
    each: 'soapEach',
    route: route.map(([place, text]) => ({ id: place, text })),
  }),
  seeks,
});

/**
 * A limit by what it is put on, for example `limit('x', 'hold', 'loss', '<=', of(3, 'mbar'), source)`.
 * @example limit('x', 'hold', 'loss', '<=', of(3, 'mbar')).op // '<='
 */
export function limit(id: Id, stage: Id, measure: Measure, op: Comparison, value: Value, source: Source = commonPractice, rest: Partial<Limit> = {}): Limit {
  return { id, stage, of: measure, op, value, source, ...rest };
}

/**
 * A band: two limits, with the names of both ends.
 * @example band('x', 'hold', 'pressure', of(9, 'mbar'), of(11, 'mbar')).map((l) => l.id) // ['x.low', 'x.high']
 */
export function band(
  id: Id,
  stage: Id,
  measure: Measure,
  low: Value,
  high: Value,
  source: Source = commonPractice,
  rest: Partial<Limit> = {},
): readonly Limit[] {
  return [limit(`${id}.low`, stage, measure, '>=', low, source, rest), limit(`${id}.high`, stage, measure, '<=', high, source, rest)];
}

export const is = (attribute: `${string}.${string}`, ...values: (string | boolean)[]): Condition => ({ attribute, is: values });

export const fault = (
  stage: Id,
  sign: Words,
  cause: Words,
  next: Words,
): { readonly stage: Id; readonly sign: Words; readonly cause: Words; readonly next: Words } => ({
  stage,
  sign,
  cause,
  next,
});
export const caution = (before: Id, text: Words): { readonly before: Id; readonly text: Words } => ({ before, text });

/** What every screen and certificate says beside a result. */
export const defers = 'This does not replace the maker’s instructions, the local code or licensed practice.';
