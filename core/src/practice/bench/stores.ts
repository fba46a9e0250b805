import { act, aim, q, type Benches } from './bench';

export const stores: Benches = {
  'store.half-life': {
    device: 'SP',
    role: 'store',
    tag: 'SS-01',
    attributes: { volume: q(100, 'm3'), since2010: true },
    gauges: { store: { input: 'p1', unit: 'Pa', low: -50, high: 500, resolution: 0.1, accuracy: 1 } },
    rig: 'store',
    moves: {
      fill: [aim('fill')],
      shut: [act('shut')],
      trim: [aim('trim')],
      'oil-fill': [aim('fill')],
      'oil-shut': [act('shut')],
      'oil-trim': [aim('trim')],
      'air-on': [aim('fill')],
      start: [act('shut')],
      aftercare: [act('bleed')],
    },
    truth: { none: 'pass', 'hatch seal': 'fail', 'fan inlet': 'fail', 'hatch left open': 'fail', 'morning sun': 'undecided', 'perished rubber': 'fail' },
  },
};
