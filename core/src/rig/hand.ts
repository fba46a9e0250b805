import type { Id, Verdict } from '../procedure';
import { decimalIn, type Quantity } from '../quantity';
import type { RigAction } from './rig';

/** What a practised hand does at a step, as data: an act (`aim` is filled in from the step's window), or waiting for something to happen or for time. */
export type HandMove = { readonly act: string; readonly aim?: 'low' | 'middle' | 'high' } | { readonly until: Id } | { readonly seconds: number };

/** What a run must come to when a fault is seeded: the same for every rule set, or by rule set. It is the rig's hidden truth, never asked of `judge`. */
export type Truth = Verdict | Readonly<Record<Id, Verdict>>;

interface HandRow {
  /** The rig that stands for the items. */
  readonly rig: Id;
  /** Moves by step or mark; a stage's own name stands for what is done before it begins, `stage:start` for its start. */
  readonly moves: Readonly<Record<Id, readonly HandMove[]>>;
  /** The faults that this procedure can meet, and what it must find. */
  readonly truth: Readonly<Record<string, Truth>>;
}

const act = (name: string): HandMove => ({ act: name });
const aim = (name: string, where: 'low' | 'middle' | 'high' = 'middle'): HandMove => ({ act: name, aim: where });
const until = (what: Id): HandMove => ({ until: what });

/** Proving the kit, then filling, settling and trimming: what most vessels are done by. */
const filled = (fill: Id, settle: Id, trim: Id): HandRow['moves'] => ({
  [fill]: [aim('fill')],
  [settle]: [aim('keep')],
  [trim]: [aim('trim')],
  start: [act('shut')],
});

const brakeMoves: HandRow['moves'] = {
  charge: [act('let up'), act('engine on')],
  'engine-off': [act('engine off')],
  release: [act('release')],
  recharge: [act('let up'), act('engine on')],
  pedal: [act('engine off'), act('release'), act('press')],
  'pump-down': [act('engine off'), act('pump'), until('low'), act('let up')],
  'engine-low': [act('engine on')],
  'engine-cut-in': [act('let up'), act('engine on'), until('unloads')],
  ease: [act('pump')],
  loads: [until('loads')],
  'engine-cut-out': [act('let up'), act('engine on')],
  unloads: [until('unloads')],
  pump: [act('engine off'), act('release'), act('pump')],
  warns: [until('warns')],
  'pump-on': [act('pump')],
  pops: [until('pops')],
  'engine-on': [act('let up'), act('park'), act('fast idle')],
  'supply-charge': [act('let up'), act('engine on'), until('unloads'), act('engine off')],
  'supply-off': [act('open line')],
  'supply-closes': [until('protected')],
  'service-charge': [act('close line'), act('engine on'), until('unloads'), act('engine off')],
  'service-off': [act('press'), act('open line')],
  'service-closes': [until('protected')],
  'lines-back': [act('close line'), act('let up')],
  'stroke-charge': [act('let up'), act('engine on'), until('unloads')],
  marked: [act('engine off'), act('release'), act('press'), { seconds: 5 }],
  aftercare: [act('park'), act('let up')],
};

const jacketMoves: HandRow['moves'] = {
  'rig-closed': [act('rig only')],
  'rig-up': [aim('raise')],
  'calibrated-in': [act('calibrated in')],
  filled: [act('cylinder in')],
  bled: [act('cylinder on')],
  zeroed: [act('let down'), { seconds: 20 }, act('zero'), { seconds: 1 }],
  'expand:start': [aim('raise', 'low')],
  'calibrate:start': [aim('raise')],
  'permanent-read': [act('let down'), { seconds: 20 }],
};

const circuitMoves: HandRow['moves'] = {
  'open-all': [act('open all'), { seconds: 2 }],
  'zero-read': [],
  'flow-off': [],
  fill: [aim('fill')],
  'watch-settle': [],
  'watch:start': [act('leave')],
  'fill-again': [aim('fill')],
  still: [aim('still'), { seconds: 60 }],
  squeeze: [act('squeeze')],
  'valve-opens': [until('opens')],
  aftercare: [act('release'), { seconds: 10 }],
};

/** By procedure. */
const hands: Readonly<Record<Id, HandRow>> = {
  'ba.user-check': {
    rig: 'breathing-set',
    moves: { open: [act('open'), { seconds: 5 }], shut: [act('shut')], bleed: [act('bleed')], 'alarm-starts': [until('alarm')], aftercare: [act('bleed')] },
    truth: {
      none: { quarter: 'pass', third: 'fail', 'bar-55': 'fail' },
      'alarm for a third': { quarter: 'fail', third: 'pass', 'bar-55': 'fail' },
      'alarm for 55 bar': { quarter: 'fail', third: 'fail', 'bar-55': 'pass' },
      'line joint': 'fail',
      'late alarm': 'fail',
      'half full': 'fail',
      'outlet valve sticks': 'fail',
      'free flow': 'fail',
    },
  },
  'ba.soap-survey': {
    rig: 'breathing-set',
    moves: { open: [act('open'), { seconds: 5 }] },
    truth: { none: 'pass', 'line joint': 'fail', 'reducer creeps': 'fail' },
  },
  'ba.high-pressure': {
    rig: 'breathing-set',
    moves: { pressurise: [act('open')], shut: [{ seconds: 30 }, act('shut')], aftercare: [act('bleed')] },
    truth: { none: 'pass', 'line joint': 'fail', 'reducer creeps': 'fail' },
  },
  'ba.facepiece': {
    rig: 'face-piece',
    moves: { blank: [act('blank')], 'rig-suction': [aim('fill')], join: [act('join')], ...filled('draw', 'settle', 'trim') },
    truth: { none: 'pass', 'outlet valve': 'fail', 'visor frame': 'fail', 'kit hose': 'void' },
  },
  'suit.inflation': {
    rig: 'suit',
    moves: {
      blank: [act('blank')],
      'rig-pressure': [aim('fill')],
      'rig-settle': [aim('keep')],
      connect: [act('join')],
      fill: [aim('fill')],
      settle: [aim('keep')],
      'let-down': [aim('trim')],
      trim: [aim('trim')],
      start: [act('shut')],
      aftercare: [act('bleed')],
    },
    truth: { none: 'pass', 'zip end': 'fail', 'valve seat': 'fail', 'kit joint': 'void', 'sun on the suit': 'undecided' },
  },
  'drysuit.survey': {
    rig: 'dry-suit',
    moves: { plug: [act('join')], inflate: [aim('fill')], aftercare: [act('bleed')] },
    truth: { none: 'pass', pinhole: 'fail', 'two seams': 'fail', 'valve seat': 'fail', 'nicked neck seal': 'fail' },
  },
  'anaes.machine': { rig: 'article', moves: {}, truth: { none: 'pass', 'stiff vaporiser dial': 'fail', 'gas escapes behind': 'fail' } },
  'anaes.circle': {
    rig: 'circuit',
    moves: circuitMoves,
    truth: {
      none: 'pass',
      'absorber seal': 'fail',
      'hose crack': 'fail',
      'relief valve sticks': 'fail',
      'sticking disc': { steady: 'pass', 'small-animal': 'pass', human: 'pass', disposable: 'fail' },
    },
  },
  'anaes.t-piece': { rig: 'circuit', moves: circuitMoves, truth: { none: 'pass', 'hose crack': 'fail', 'valve opens early': 'fail' } },
  'anaes.mapleson-a': { rig: 'circuit', moves: circuitMoves, truth: { none: 'pass', 'hose crack': 'fail', 'inner limb loose': 'fail' } },
  'anaes.coaxial-d': { rig: 'circuit', moves: circuitMoves, truth: { none: 'pass', 'hose crack': 'fail', 'inner limb loose': 'fail' } },
  'brakes.applied-loss': {
    rig: 'air-brakes',
    moves: brakeMoves,
    truth: {
      none: 'pass',
      'tank drain': 'fail',
      'chamber diaphragm': 'fail',
      'second circuit chamber': { single: 'pass', combination: 'pass', 'bus-a': 'pass', 'bus-b': 'pass', 'fire-apparatus': 'fail', 'build-from-low': 'pass' },
    },
  },
  'brakes.whole': {
    rig: 'air-brakes',
    moves: brakeMoves,
    truth: {
      none: 'pass',
      'tank drain': 'fail',
      'chamber diaphragm': 'fail',
      'second circuit chamber': { single: 'pass', combination: 'pass', 'bus-a': 'pass', 'bus-b': 'pass', 'fire-apparatus': 'fail', 'build-from-low': 'pass' },
      'late warning': 'fail',
      'parking valve sticks': 'fail',
      'governor set high': { single: 'fail', combination: 'fail', 'bus-a': 'pass', 'bus-b': 'pass', 'fire-apparatus': 'fail', 'build-from-low': 'fail' },
      'weak compressor': { single: 'fail', combination: 'pass', 'bus-a': 'pass', 'bus-b': 'fail', 'fire-apparatus': 'fail', 'build-from-low': 'fail' },
      'adjuster behind': { single: 'pass', combination: 'pass', 'bus-a': 'pass', 'bus-b': 'pass', 'fire-apparatus': 'pass', 'build-from-low': 'fail' },
      'protection valve sticks': { single: 'pass', combination: 'pass', 'bus-a': 'pass', 'bus-b': 'pass', 'fire-apparatus': 'pass', 'build-from-low': 'fail' },
    },
  },
  'cyl.water-jacket': {
    rig: 'jacket',
    moves: jacketMoves,
    truth: {
      none: 'pass',
      'wall has yielded': 'fail',
      'thin wall': { 'us-metal': 'pass', composite: 'fail', maker: 'fail' },
      'rig fitting': 'void',
      'scale off': 'void',
      'crack inside': 'fail',
    },
  },
  'cyl.direct-expansion': {
    rig: 'jacket',
    moves: jacketMoves,
    truth: { none: 'pass', 'wall has yielded': 'fail', 'rig fitting': 'void', 'crack inside': 'fail' },
  },
  'cyl.visual': {
    rig: 'article',
    moves: {},
    truth: { none: 'pass', dent: 'fail', 'heat mark': 'fail', 'pitting inside': 'fail', 'worn threads': 'fail', 'past its life': 'fail' },
  },
  'tank.ibc': {
    rig: 'ibc',
    moves: {
      'relief-out': [act('join')],
      pressurise: [aim('fill')],
      'supply-off': [{ seconds: 150 }, act('shut')],
      'pressure-on': [aim('fill')],
      aftercare: [act('bleed')],
    },
    truth: { none: 'pass', 'manhole gasket': 'fail', 'outlet valve': 'fail', 'not gas-free': 'void' },
  },
  'tank.vapour-10': {
    rig: 'vapour-tank',
    moves: {
      blind: [act('blank')],
      'assembly-up': [aim('fill')],
      pressure: [act('join')],
      ...filled('nitrogen', 'settle', 'trim'),
      'pressure:start': [{ seconds: 150 }],
      'let-down': [act('bleed')],
    },
    truth: { none: 'pass', 'cap left off': 'fail', 'vent cap': 'fail', 'drop-tube adapter': 'fail', 'assembly hose': 'void', 'sun on the vent': 'undecided' },
  },
  'tank.vapour-2': {
    rig: 'vapour-tank',
    moves: {
      blind: [act('blank')],
      'assembly-up': [aim('fill')],
      pressure: [act('join')],
      ...filled('nitrogen', 'settle', 'trim'),
      'pressure:start': [{ seconds: 150 }],
      'let-down': [act('bleed')],
    },
    truth: { none: 'pass', 'vent cap': 'fail', 'assembly hose': 'void' },
  },
  'tank.cargo': {
    rig: 'cargo-tank',
    moves: {
      ...filled('fill', 'settle', 'trim'),
      'valve-shut': [act('isolate')],
      draw: [aim('trim')],
      'suction-settle': [aim('trim')],
      'suction-trim': [aim('trim')],
      'let-down': [act('bleed')],
    },
    truth: { none: 'pass', 'hatch gasket': 'fail', 'inside vapour valve': { annual: 'fail', 'any-time': 'pass' } },
  },
  'valve.vent': {
    rig: 'vent-stand',
    moves: {
      capped: [],
      'stand-up': [aim('cap')],
      fit: [act('rest')],
      'leak-plus-set': [aim('still')],
      'crack-plus-flow': [act('push')],
      'cracks-plus': [until('cracked'), { seconds: 2 }],
      'leak-minus-set': [aim('still')],
      'crack-minus-flow': [act('draw')],
      'cracks-minus': [until('cracked'), { seconds: 2 }],
      aftercare: [act('rest')],
    },
    truth: { none: 'pass', 'dirt on the pressure seat': 'fail', 'dirt on the suction seat': 'fail', 'sticking disc': 'fail', 'stand fitting': 'void' },
  },
  'valve.relief': {
    rig: 'relief-bench',
    moves: {
      mounted: [act('bleed'), { seconds: 6 }],
      'lift-1': [],
      'lift-2': [act('bleed'), { seconds: 6 }],
      'lift-3': [act('bleed'), { seconds: 6 }],
      'shut-1': [act('lift'), until('shut')],
      'shut-2': [act('lift'), until('shut')],
      'shut-3': [act('lift'), until('shut')],
      'seat-up': [aim('hold at')],
      'seat-isolate': [act('isolate')],
      'bubble-up': [aim('hold at')],
      'bubble-wait': [act('isolate')],
      aftercare: [act('bleed')],
    },
    truth: { none: 'pass', 'out of adjustment': 'fail', 'weak spring': 'fail', 'scored seat': 'fail' },
  },
  'store.half-life': {
    rig: 'store',
    moves: { fill: [aim('fill')], shut: [act('shut')], trim: [aim('trim')], start: [act('shut')], aftercare: [act('bleed')] },
    truth: { none: 'pass', 'hatch seal': 'fail', 'fan inlet': 'fail', 'morning sun': 'undecided', 'perished rubber': 'fail' },
  },
};

/** The rig that simulates what a procedure tests, if there is one. */
export function rigFor(procedure: Id): string | undefined {
  return hands[procedure]?.rig;
}

/** The faults that a procedure's rig can be given, and what a run under a rule set must then come to. */
export function truthOf(procedure: Id, ruleSet: Id): Readonly<Record<string, Verdict>> {
  const rows = Object.entries(hands[procedure]?.truth ?? {});
  return Object.fromEntries(rows.map(([fault, truth]) => [fault, typeof truth === 'string' ? truth : (truth[ruleSet] ?? 'pass')]));
}

/** A move with its aim worked out. */
export type DefiniteMove = RigAction | { readonly until: Id } | { readonly seconds: number };

/**
 * The moves that carry out a step, with the aim inside its window.
 * @param window the pressures that the step must reach, where it has one
 */
export function movesAt(procedure: Id, step: Id, window?: { readonly low: Quantity; readonly high: Quantity }): readonly DefiniteMove[] {
  return (hands[procedure]?.moves[step] ?? []).map((move): DefiniteMove => {
    if (!('act' in move)) return move;
    if (!move.aim || !window) return { act: move.act };
    const low = decimalIn(window.low, 'Pa').toNumber();
    const high = decimalIn(window.high, 'Pa').toNumber();
    // Near an end and not on it: noise would step over it.
    const share = { low: 0.15, middle: 0.5, high: 0.85 }[move.aim];
    return { act: move.act, to: low + share * (high - low) };
  });
}

/** The rig actions alone that carry out a step, for the practice rig's one-press hand. */
export function handAt(procedure: Id, step: Id, window?: { readonly low: Quantity; readonly high: Quantity }): readonly RigAction[] {
  return movesAt(procedure, step, window).filter((m): m is RigAction => 'act' in m);
}
