import type { Procedure } from '../language';
import { commonPractice, fromMemory } from '../source';
import { caution, defers, fault, item, look } from './parts';

const cdl = fromMemory('Commercial driver licence manual', 'section 11, vehicle inspection');

/** What is looked at in the cab beside the air, before a vehicle is used. */
export const brakesCab: Procedure = {
  id: 'brakes.in-cab',
  edition: '1',
  language: 2,
  title: 'In the cab, before use',
  verdictWords: { pass: 'in order', fail: 'out of use' },
  claims: 'in order',
  warning: `It says nothing of the air brakes: they have tests of their own. ${defers}`,
  sources: [cdl, commonPractice],
  roles: { vehicle: { classes: ['truck', 'bus', 'fire-apparatus'] } },
  channels: {},
  bring: ['The key', 'The log'],
  stages: [
    look('gather', 'vehicle', 'Identify', 'gather', [
      item('plate', 'The number on the chassis plate is the one in the log', { automatic: true }),
      item('parked', 'Parking brake set, out of gear, before the engine is started'),
    ]),
    look('gauges', 'vehicle', 'Gauges', 'test', [
      item('oil', 'Engine started: oil pressure comes up within seconds, its lamp goes out', { automatic: true }),
      item('volts', 'Voltmeter shows that it charges: about 13 to 14 V on a 12 V system, 26 to 28 V on a 24 V one'),
      item('coolant', 'Coolant gauge moves to its usual place'),
      item('air-gauges', 'Both air gauges rise'),
    ]),
    look('hands', 'vehicle', 'By hand', 'test', [
      item('wheel-play', 'Steering-wheel play: no more than about 2 in on a 20 in wheel'),
      item('horn', 'Town horn and air horn sound'),
      item('wipers', 'Wipers and washers work, blades whole'),
      item('heater', 'Heater and defroster blow'),
      item('lights', 'Every lamp and its indicator in the cab'),
      item('mirrors', 'Mirrors and glass whole, clean and set'),
      item('belt', 'Belt whole, it locks and lets go'),
    ]),
    look('kit', 'vehicle', 'What has to be aboard', 'test', [
      item('extinguisher', 'Fire extinguisher charged, in date, in its clamp'),
      item('triangles', 'Warning triangles'),
      item('fuses', 'Spare fuses, unless it has breakers', { optional: true }),
    ]),
    look('aftercare', 'vehicle', 'Leave it safe', 'aftercare', [item('stopped', 'Engine stopped or the wheel taken over; log written')]),
  ],
  ruleSets: [
    {
      id: 'general',
      title: 'In-cab list',
      edition: '1',
      note: 'Looked at and tried before the first use of a day, beside the test of the air.',
      order: 'free',
      skip: [],
      parameters: {},
      limits: [],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [caution('gauges', 'No oil pressure: stop the engine at once.')],
  faults: [
    fault('gauges', 'Oil pressure does not come', 'Pump, level or sender', 'Stop the engine; level first'),
    fault('gauges', 'It does not charge', 'Belt or alternator', 'Belt first'),
    fault('hands', 'Too much play', 'Joints or box', 'Out of use: to the workshop'),
    fault('kit', 'Something is missing', 'Used and not put back', 'Put it back before it leaves'),
  ],
};
