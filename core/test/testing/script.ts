import { foldAll, judge, type EventBody, type InstrumentCopy, type RunEvent, type RunResult, type RunState } from '../../src/run';
import type { Plan } from '../../src/procedure';
import { brakeLogger, manometer, planFor } from './practiceRuns';

/** Writes events by hand: one source, counted by itself, at times in seconds. */
export function script(lines: readonly (readonly [number, EventBody])[], source = 'hand'): RunEvent[] {
  return lines.map(([s, body], i) => ({ id: `${source}-${i}`, source, n: i + 1, at: Math.round(s * 1000), ...body }));
}

export interface Scripted {
  readonly plan: Plan;
  readonly state: RunState;
  readonly events: readonly RunEvent[];
  readonly result: RunResult;
}

const answers = (items: readonly string[], at: number): (readonly [number, EventBody])[] =>
  items.map((item) => [at, { kind: 'answered', item, answer: 'yes' }]);

export interface SuitReadings {
  readonly ruleSet: string;
  readonly unit: string;
  readonly fill: number;
  readonly letDown?: number;
  readonly start: number;
  readonly end: number;
  /** Seconds waited to settle and held. */
  readonly settle: number;
  readonly hold: number;
  readonly instrument?: InstrumentCopy;
  /** More events between the start and the end of the hold, at seconds from its start. */
  readonly during?: readonly (readonly [number, EventBody])[];
  readonly endReason?: string;
}

/** A suit test of typed readings alone, written as a person would: read, then say. */
export function suitScript(r: SuitReadings): Scripted {
  const plan = planFor('suit.inflation', r.ruleSet, { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } });
  const unit = (value: number): EventBody => ({ kind: 'reading', channel: 'suit', quantity: { value, unit: r.unit } });
  const mark = (name: string): EventBody => ({ kind: 'marked', mark: name });
  const filled = 300;
  const trimmed = filled + r.settle + 10;
  const over = trimmed + r.hold;
  const opened: EventBody = {
    kind: 'opened',
    startedAt: '2026-11-25T08:00:00.000Z',
    procedure: 'digest',
    ruleSet: r.ruleSet,
    assets: { suit: { id: 'GS-01', attributes: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } } },
    instruments: { suit: r.instrument ?? manometer },
    clock: 'live',
  };
  const events = script([
    [0, opened],
    [1, { kind: 'began', stage: 'gather', attempt: 1 }],
    ...answers(['serial', 'flat', 'adapters'], 2),
    [3, { kind: 'ended', stage: 'gather', attempt: 1 }],
    [4, { kind: 'began', stage: 'look', attempt: 1 }],
    ...answers(['sound', 'diaphragms', 'zip'], 5),
    [6, { kind: 'ended', stage: 'look', attempt: 1 }],
    [7, { kind: 'began', stage: 'rig-proof', attempt: 1 }],
    [8, mark('blank')],
    [9, unit(r.fill)],
    [10, mark('rig-pressure')],
    [31, mark('rig-settle')],
    [32, unit(r.fill)],
    [33, mark('start')],
    [93, unit(r.fill)],
    [94, { kind: 'ended', stage: 'rig-proof', attempt: 1 }],
    [100, { kind: 'began', stage: 'inflate', attempt: 1 }],
    [101, mark('connect')],
    [filled - 1, unit(r.fill)],
    [r.letDown === undefined ? filled : filled - 0.5, mark('fill')],
    ...(r.letDown === undefined ? [] : ([[filled - 0.2, unit(r.letDown)], [filled, mark('let-down')]] as const)), // prettier-ignore
    // It is looked at every minute while it settles.
    ...Array.from({ length: Math.floor(r.settle / 60) }, (_, k) => [filled + 60 * (k + 1), unit(r.letDown ?? r.fill)] as const),
    [filled + r.settle, mark('settle')],
    [filled + r.settle, mark('full-look')],
    [trimmed - 2, unit(r.start)],
    [trimmed - 1, mark('trim')],
    [trimmed, mark('start')],
    ...(r.during ?? []).map(([s, body]) => [trimmed + s, body] as const),
    [over, unit(r.end)],
    [over + 1, { kind: 'ended', stage: 'inflate', attempt: 1, ...(r.endReason === undefined ? {} : { reason: r.endReason }) }],
    [over + 2, { kind: 'began', stage: 'aftercare', attempt: 1 }],
    ...answers(['let-down-safe', 'plugs-out', 'zip-open', 'diaphragms-back', 'covers', 'stored'], over + 3),
    [over + 4, { kind: 'ended', stage: 'aftercare', attempt: 1 }],
    [over + 5, { kind: 'sealed' }],
  ]);
  const state = foldAll(events);
  return { plan, state, events, result: judge(plan, state) };
}

export interface BrakeReadings {
  readonly ruleSet: string;
  readonly units?: number;
  /** Primary and secondary at start and end of the static minute. */
  readonly static?: readonly [number, number, number, number];
  /** Before the pedal, start, end; primary then secondary. */
  readonly applied: readonly [number, number, number, number, number, number];
  /** Seconds from the pedal to the start reading, and from the clock's start to the end reading. */
  readonly settle?: number;
  readonly hold?: number;
  /** Seconds from the start of the static minute to its end reading. */
  readonly staticHold?: number;
}

/** The brake minutes, typed. */
export function brakeScript(r: BrakeReadings): Scripted {
  const attributes = { units: { value: r.units ?? 1, unit: '1' } };
  const plan = planFor('brakes.applied-loss', r.ruleSet, { vehicle: attributes });
  const read = (at: number, primary: number, secondary: number): (readonly [number, EventBody])[] => [
    [at, { kind: 'reading', channel: 'primary', quantity: { value: primary, unit: '[psi]' } }],
    [at, { kind: 'reading', channel: 'secondary', quantity: { value: secondary, unit: '[psi]' } }],
  ];
  const mark = (name: string): EventBody => ({ kind: 'marked', mark: name });
  const settle = r.settle ?? 32;
  const fromPedal = plan.ruleSet.holdFrom !== undefined;
  const over = 400 + (fromPedal ? 0 : settle) + (r.hold ?? 60);
  const [p0, p1, p2, s0, s1, s2] = r.applied;
  const dash: InstrumentCopy = { ...brakeLogger, fitted: true, calibrationDue: null };
  const st = r.static;
  const events = script([
    [0, { kind: 'opened', startedAt: '2026-11-25T08:00:00.000Z', procedure: 'digest', ruleSet: r.ruleSet, assets: { vehicle: { id: 'TR-01', attributes } }, instruments: { primary: dash, secondary: dash }, clock: 'live' }], // prettier-ignore
    [1, { kind: 'began', stage: 'gather', attempt: 1 }],
    ...answers(['plate', 'ground', 'chocks', 'lines'], 2),
    [3, { kind: 'ended', stage: 'gather', attempt: 1 }],
    [4, { kind: 'began', stage: 'look', attempt: 1 }],
    ...answers(['hoses', 'gauges'], 5),
    [6, { kind: 'ended', stage: 'look', attempt: 1 }],
    ...(st
      ? ([
          [100, { kind: 'began', stage: 'static', attempt: 1 }],
          ...read(110, 125, 125),
          [111, mark('charge')],
          [112, mark('engine-off')],
          [113, mark('release')],
          [144, mark('static-settle')],
          ...read(145, st[0], st[2]),
          [146, mark('start')],
          ...read(146 + (r.staticHold ?? 60), st[1], st[3]),
          [147 + (r.staticHold ?? 60), { kind: 'ended', stage: 'static', attempt: 1 }],
        ] as const)
      : []),
    [300, { kind: 'began', stage: 'applied', attempt: 1 }],
    ...read(390, p0, s0),
    [391, mark('recharge')],
    [400, mark('pedal')],
    [400 + settle - 1, mark('applied-settle')],
    ...read(400 + settle, p1, s1),
    [400 + settle, mark('start')],
    ...read(over, p2, s2),
    [over + 1, { kind: 'ended', stage: 'applied', attempt: 1 }],
    [over + 2, { kind: 'began', stage: 'aftercare', attempt: 1 }],
    ...answers(['park', 'chocks-out', 'log'], over + 3),
    [over + 4, { kind: 'ended', stage: 'aftercare', attempt: 1 }],
    [over + 5, { kind: 'sealed' }],
  ] as const);
  const state = foldAll(events);
  return { plan, state, events, result: judge(plan, state) };
}
