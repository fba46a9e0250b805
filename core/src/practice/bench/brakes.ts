import type { Channel } from '../../procedure';
import { act, psi, q, until, type Bench, type Benches, type Gauge } from './bench';

const dash = (input: Channel): Gauge => ({ input, unit: psi, high: 200, resolution: 0.1, accuracy: 1, noise: 0.04 });
const rule = (input: Channel): Gauge => ({ input, unit: '[in_i]', high: 6, resolution: 0.0625, accuracy: 0.03125, byHand: true, noise: 0 });
const tachometer: Gauge = { input: 'n1', unit: '/min', high: 3000, resolution: 10, accuracy: 20, fitted: true, noise: 0.8 };
const strokes = { strokeLeft: rule('sl'), strokeRight: rule('sr') };
const axles = ['20', '30', '30'].map((chamber, k) => ({ name: ['steered', 'driven', 'last'][k] ?? '', unit: '1', chamber }));
/** The towing vehicle has all its axles; of a trailer the last. */
const combined = axles.map((a, k) => (k < 2 ? a : { ...a, unit: '2' }));
const vehicle = { reservoir: q(45, 'L'), axles: q(3, '1'), lowAirLamp: true, lowAirBuzzer: true, secondLamp: true, lowAirMessage: true, school: 'general' };
const tested = {
  single: { units: q(1, '1'), useAs: 'single' },
  combination: { units: q(2, '1'), useAs: 'combination' },
  'bus-a': { units: q(1, '1'), useAs: 'bus A' },
  'bus-b': { units: q(1, '1'), useAs: 'bus B' },
  'fire-apparatus': { units: q(1, '1'), useAs: 'fire apparatus' },
  'build-from-low': { units: q(1, '1'), useAs: 'build from low' },
};
const brakeMoves: Bench['moves'] = {
  charge: [act('let up'), act('engine on')],
  'engine-off': [act('engine off')],
  release: [act('release')],
  recharge: [act('let up'), act('engine on')],
  pedal: [act('engine off'), act('release'), act('press')],
  'pump-down': [act('engine off'), act('pump'), until('low'), act('let up')],
  'engine-low': [act('engine on')],
  'engine-cut-in': [act('let up'), act('engine on'), until('unloads')],
  ease: [act('pump')],
  loads: [until('loads'), act('let up'), { seconds: 12 }],
  'engine-cut-out': [act('let up'), act('engine on')],
  unloads: [until('unloads'), { seconds: 12 }],
  pump: [act('engine off'), act('release'), act('pump')],
  warns: [until('warns')],
  'pump-on': [act('pump')],
  pops: [until('pops')],
  'engine-on': [act('let up'), act('park'), act('fast idle')],
  'engine-idle': [act('let up'), act('park'), act('engine on')],
  'supply-charge': [act('let up'), act('engine on'), until('unloads'), act('engine off')],
  'supply-off': [act('open line')],
  'supply-closes': [until('protected'), { seconds: 12 }],
  'service-charge': [act('close line'), act('engine on'), until('unloads'), act('engine off')],
  'service-off': [act('press'), act('open line')],
  'service-closes': [until('protected'), { seconds: 12 }],
  'lines-back': [act('close line'), act('let up')],
  'stroke-charge': [act('let up'), act('engine on'), until('unloads')],
  marked: [act('engine off'), act('release'), act('press'), { seconds: 5 }],
  'charge-up': [act('let up'), act('engine on'), until('unloads')],
  gather: [act('chock')],
  aftercare: [act('park'), act('let up')],
  'stands.engine.off': [act('engine off')],
  'stands.engine.on': [act('engine on')],
  'stands.pedal.up': [act('let up')],
  'stands.pedal.down': [act('press')],
  'stands.chocks.in': [act('chock')],
  'stands.chocks.out': [act('unchock')],
  'stands.parking.set': [act('park'), act('let up')],
  'stands.supplyLine.on': [act('close line')],
  'stands.serviceLine.on': [act('close line')],
};

export const brakes: Benches = {
  'brakes.applied-loss': {
    device: 'BP',
    role: 'vehicle',
    tag: 'TR-02',
    attributes: vehicle,
    by: tested,
    gauges: { primary: dash('p1'), secondary: dash('p2'), engine: tachometer },
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
    device: 'BP',
    role: 'vehicle',
    tag: 'TR-02',
    attributes: vehicle,
    by: tested,
    gauges: {
      primary: dash('p1'),
      secondary: dash('p2'),
      engine: tachometer,
      ...strokes,
    },
    lists: { axles: combined },
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
      'lamp dead, buzzer alive': 'fail',
      'parking brake slips': 'fail',
      'one valve stays in': { combination: 'fail', 'build-from-low': 'fail' },
      'heads crossed': { combination: 'fail', 'build-from-low': 'fail' },
    },
  },
};
