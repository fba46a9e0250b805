import { act, aim, byHand, q, type Benches } from './bench';

export const suits: Benches = {
  'suit.inflation': {
    device: 'PL',
    role: 'suit',
    tag: 'GS-02',
    attributes: { openFaced: false, exhaustValves: q(2, '1'), adapters: q(2, '1'), buildStandard: 'EN 943-1', volume: q(200, 'L') },
    gauges: { suit: { input: 'p1', unit: 'mbar', high: 50, resolution: 0.01, accuracy: 0.05 } },
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
    truth: { none: 'pass', 'zip end': 'fail', 'valve seat': 'fail', 'glove torn': 'fail', 'kit joint': 'void', 'sun on the suit': 'undecided' },
  },
  'drysuit.survey': {
    device: 'DS',
    role: 'suit',
    tag: 'DS-01',
    attributes: { volume: q(80, 'L') },
    gauges: { suit: { input: 'p1', unit: 'mbar', low: -5, high: 60, resolution: 0.1, accuracy: 0.3 } },
    rig: 'dry-suit',
    moves: { plug: [act('join')], inflate: [aim('fill')], 'inflate-by-hand': [byHand('fill', 1500), { seconds: 120 }], aftercare: [act('bleed')] },
    truth: { none: 'pass', pinhole: 'fail', 'two seams': 'fail', 'valve seat': 'fail', 'cuff torn': 'fail', 'nicked neck seal': 'fail' },
  },
};
