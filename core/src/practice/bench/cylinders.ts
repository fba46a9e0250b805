import { act, aim, byHand, q, type Bench, type Benches } from './bench';

const jacket = {
  pressure: { input: 'p1', unit: 'bar', high: 600, resolution: 0.1, accuracy: 1, noise: 0.02 },
  water: { input: 'w1', unit: 'mL', low: -1, high: 600, resolution: 0.1, accuracy: 0.05, noise: 0.02 },
} as const;
const cylinder = {
  testPressure: q(300, 'bar'),
  workingPressure: q(200, 'bar'),
  waterCapacity: q(12, 'L'),
  waterMass: q(12, 'kg'),
  certificateExpansion: q(45, 'mL'),
  rejectionMarked: true,
  rejectionElastic: q(60, 'mL'),
  mostExpansion: q(65, 'mL'),
  material: 'steel',
};
const jacketMoves: Bench['moves'] = {
  'rig-closed': [act('rig only')],
  'rig-up': [aim('raise')],
  'calibrated-in': [act('calibrated in')],
  filled: [act('cylinder in')],
  bled: [act('cylinder on')],
  zeroed: [act('let down'), { seconds: 20 }, act('zero'), { seconds: 1 }],
  'working-read': [byHand('raise', 200e5)],
  'expand:start': [aim('raise', 'low')],
  'calibrate:start': [aim('raise')],
  'permanent-read': [act('let down'), { seconds: 20 }],
};

export const cylinders: Benches = {
  'cyl.water-jacket': {
    device: 'WJ',
    role: 'cylinder',
    tag: 'CY-01',
    attributes: cylinder,
    by: { composite: { material: 'composite' } },
    gauges: jacket,
    rig: 'jacket',
    moves: jacketMoves,
    truth: {
      none: 'pass',
      'wall has yielded': 'fail',
      'thin wall': 'fail',
      'rig fitting': 'void',
      'scale off': 'void',
      'crack inside': 'fail',
    },
  },
  'cyl.direct-expansion': {
    device: 'WJ',
    role: 'cylinder',
    tag: 'CY-02',
    attributes: cylinder,
    gauges: { ...jacket, temperature: { input: 't1', unit: 'Cel', low: 0, high: 50, resolution: 0.1, accuracy: 0.2, noise: 0.02 } },
    rig: 'jacket',
    moves: jacketMoves,
    truth: { none: 'pass', 'wall has yielded': 'fail', 'rig fitting': 'void', 'crack inside': 'fail' },
  },
  'cyl.visual': {
    device: 'PA',
    role: 'cylinder',
    tag: 'CY-01',
    attributes: cylinder,
    gauges: {},
    rig: 'article',
    moves: {},
    truth: { none: 'pass', dent: 'fail', 'heat mark': 'fail', 'pitting inside': 'fail', 'worn threads': 'fail', 'past its life': 'fail' },
  },
};
