import type { Channel } from '../../procedure';
import { act, aim, q, until, type Bench, type Benches, type Gauge, filled } from './bench';

const hpGauge = (input: Channel): Gauge => ({ input, unit: 'bar', high: 400, resolution: 10, accuracy: 6.4, fitted: true, noise: 0.2 });

/** Bled down to somewhere, and stopped. */
const stops = (where: string): Bench['moves'][string] => [act('bleed'), until(where), act('stop'), { seconds: 1 }];
const bledOut: Bench['moves'][string] = [act('shut'), act('bleed'), until('bled'), act('refill')];

export const breathing: Benches = {
  'ba.user-check': {
    device: 'BS',
    role: 'set',
    tag: 'BA-01',
    attributes: { filling: q(300, 'bar'), waterCapacity: q(6.8, 'L'), alarmLamp: true, display: true, halfWarning: true, halfPattern: 'blinks' },
    gauges: { cylinder: hpGauge('p1'), remote: hpGauge('p2') },
    rig: 'breathing-set',
    moves: {
      open: [act('open'), { seconds: 5 }],
      shut: [act('shut')],
      'stands.cylinder.shut': [act('shut')],
      'three-quarters': stops('three quarters'),
      half: stops('half'),
      'quarter-before': stops('a quarter'),
      'quarter-after': stops('a quarter'),
      bleed: [act('bleed')],
      'alarm-starts': [until('alarm'), act('stop')],
      'bleed-out': [act('bleed')],
      'alarm-stops': [until('silence'), act('stop')],
      'open-again': [act('open')],
      supplied: [{ seconds: 8 }],
      aftercare: bledOut,
    },
    truth: {
      none: { quarter: 'pass', third: 'fail', 'bar-55': 'fail' },
      'alarm for a third': { quarter: 'fail', third: 'pass', 'bar-55': 'fail' },
      'alarm for 55 bar': { quarter: 'fail', third: 'fail', 'bar-55': 'pass' },
      'line joint': 'fail',
      'hose burst': 'fail',
      'late alarm': 'fail',
      'whistle starves': 'fail',
      'alarm lamp dead': 'fail',
      'half full': 'fail',
      'outlet valve sticks': 'fail',
      'free flow': 'fail',
    },
  },
  'ba.soap-survey': {
    device: 'BS',
    role: 'set',
    tag: 'BA-01',
    attributes: { filling: q(300, 'bar') },
    gauges: { cylinder: hpGauge('p1') },
    rig: 'breathing-set',
    moves: { open: [act('open'), { seconds: 5 }], aftercare: bledOut },
    truth: { none: 'pass', 'line joint': 'fail', 'reducer creeps': 'fail', 'half full': 'fail' },
  },
  'ba.high-pressure': {
    device: 'HP',
    role: 'set',
    tag: 'BA-01',
    attributes: { filling: q(300, 'bar'), trappedVolume: q(30, 'mL') },
    gauges: { line: { input: 'p2', unit: 'bar', high: 400, resolution: 0.5, accuracy: 1.5, noise: 0.1 } },
    rig: 'breathing-set',
    moves: { pressurise: [act('open')], 'open-to-find': [act('open')], shut: [{ seconds: 30 }, act('shut')], aftercare: bledOut },
    truth: { none: 'pass', 'line joint': 'fail', 'reducer creeps': 'fail', 'hose burst': 'fail' },
  },
  'ba.facepiece': {
    device: 'FP',
    role: 'face',
    tag: 'FP-01',
    attributes: { volume: q(2.5, 'L') },
    gauges: { suction: { input: 'p1', unit: 'mbar', low: -40, high: 40, resolution: 0.01, accuracy: 0.05 } },
    rig: 'face-piece',
    moves: { blank: [act('blank')], 'rig-suction': [aim('fill')], join: [act('join')], ...filled('draw', 'settle', 'trim') },
    truth: { none: 'pass', 'outlet valve': 'fail', 'visor frame': 'fail', 'valve missing': 'fail', 'kit hose': 'void' },
  },
};
