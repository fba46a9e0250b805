import { act, aim, byHand, q, until, type Bench, type Benches } from './bench';

const circuit = {
  pressure: { input: 'p1', unit: 'cm[H2O]', low: -5, high: 60, resolution: 0.1, accuracy: 0.3, noise: 0.03 },
  flow: { input: 'f1', unit: 'mL/min', high: 2000, resolution: 1, accuracy: 5, noise: 1 },
} as const;
const circuitMoves: Bench['moves'] = {
  'open-all': [act('open all'), { seconds: 2 }],
  'zero-read': [],
  'flow-off': [],
  fill: [aim('fill')],
  'watch-settle': [],
  'watch:start': [act('leave')],
  'fill-again': [aim('fill')],
  still: [aim('still'), { seconds: 60 }],
  'fill-then': [aim('fill')],
  'still-then': [aim('still'), { seconds: 60 }],
  'fill-to-find': [aim('fill')],
  'fill-by-hand': [byHand('fill', 2000), { seconds: 30 }, act('leave')],
  squeeze: [act('squeeze')],
  'valve-opens': [until('opens'), act('let go'), { seconds: 2 }],
  'open-relief': [act('release'), { seconds: 10 }],
  aftercare: [act('open all'), { seconds: 10 }],
};

/** What keeps a circuit from filling and is no leak of it. */
const setUpWrong = { 'outlet selector elsewhere': 'undecided', 'relief valve left open': 'undecided' } as const;

/** By feel nobody can tell a bag that was never filled from one with a hole: it is held back as leaking. */
const setUpFelt = Object.fromEntries(Object.keys(setUpWrong).map((name) => [name, { general: 'undecided', 'by-feel': 'fail' } as const]));
/** Too slow for a hand. */
const seenByGauge = { general: 'fail', 'by-feel': 'pass' } as const;

export const anaesthesia: Benches = {
  'anaes.machine': {
    device: 'PA',
    role: 'machine',
    tag: 'AM-01',
    attributes: { outletCheckValve: false, vaporisers: q(2, '1') },
    lists: { vaporisers: [{ name: 'left' }, { name: 'right' }] },
    by: {},
    gauges: {},
    rig: 'article',
    moves: {},
    truth: { none: 'pass', 'stiff vaporiser dial': 'fail', 'gas escapes behind': 'fail' },
  },
  'anaes.circle': {
    device: 'CB',
    role: 'circuit',
    tag: 'AC-01',
    attributes: { layout: 'circle', volume: q(6, 'L') },
    gauges: circuit,
    rig: 'circuit',
    moves: circuitMoves,
    truth: {
      none: 'pass',
      'absorber seal': 'fail',
      'hose crack': 'fail',
      'hole in the bag': 'fail',
      ...setUpWrong,
      'relief valve sticks': 'fail',
      'sticking disc': 'fail',
    },
  },
  'anaes.automatic': {
    device: 'CB',
    role: 'circuit',
    tag: 'AC-01',
    attributes: { layout: 'circle', volume: q(6, 'L') },
    gauges: { flow: circuit.flow },
    rig: 'circuit',
    moves: { 'auto-run': [byHand('fill', 2942), { seconds: 10 }, byHand('still', 2942), { seconds: 60 }], aftercare: [act('open all'), { seconds: 10 }] },
    truth: { none: 'pass', 'hose crack': 'fail', 'absorber seal': 'fail' },
  },
  'anaes.t-piece': {
    device: 'CB',
    role: 'circuit',
    tag: 'AC-02',
    attributes: { layout: 'mapleson-f', volume: q(3, 'L'), reliefPressure: q(32, 'cm[H2O]') },
    gauges: circuit,
    rig: 'circuit',
    moves: circuitMoves,
    truth: {
      none: 'pass',
      'hose crack': seenByGauge,
      'hole in the bag': 'fail',
      ...setUpFelt,
      'valve opens early': seenByGauge,
      'valve never opens': 'fail',
    },
  },
  'anaes.mapleson-a': {
    device: 'CB',
    role: 'circuit',
    tag: 'AC-03',
    attributes: { layout: 'mapleson-a', volume: q(5, 'L') },
    gauges: circuit,
    rig: 'circuit',
    moves: circuitMoves,
    truth: {
      none: 'pass',
      'hose crack': seenByGauge,
      'hole in the bag': 'fail',
      ...setUpFelt,
      'inner limb loose': 'fail',
    },
  },
  'anaes.coaxial-d': {
    device: 'CB',
    role: 'circuit',
    tag: 'AC-04',
    attributes: { layout: 'coaxial-d', volume: q(5, 'L') },
    gauges: circuit,
    rig: 'circuit',
    moves: circuitMoves,
    truth: {
      none: 'pass',
      'hose crack': seenByGauge,
      'hole in the bag': 'fail',
      ...setUpFelt,
      'inner limb loose': 'fail',
    },
  },
};
