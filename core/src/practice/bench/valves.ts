import { act, aim, inH2O, psi, q, until, type Benches } from './bench';

export const valves: Benches = {
  'valve.vent': {
    device: 'VS',
    role: 'valve',
    tag: 'PV-01',
    attributes: {},
    gauges: {
      pressure: { input: 'p1', unit: inH2O, low: -20, high: 20, resolution: 0.01, accuracy: 0.02, noise: 0.004 },
      flow: { input: 'f1', unit: 'mL/min', high: 500, resolution: 0.1, accuracy: 1, noise: 0.1 },
    },
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
    device: 'RB',
    role: 'valve',
    tag: 'RV-01',
    attributes: { set: q(100, psi), orifice: q(0.11, '1'), seat: 'metal' },
    gauges: {
      pressure: { input: 'p1', unit: psi, low: -1, high: 200, resolution: 0.01, accuracy: 0.5, noise: 0.05 },
      bubbles: { input: 'b1', unit: '1', high: 1000, resolution: 1, accuracy: 1, byHand: true, noise: 0 },
    },
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
};
