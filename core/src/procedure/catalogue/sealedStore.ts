import type { Procedure, RuleSet } from '../language';
import { commonPractice, fromMemory } from '../source';
import { act, caution, defers, fault, figure, is, item, limit, look, of, reach, test, wait, seconds } from './parts';
import { flows, shutOff, supplyStates, watched } from './setUps';

const as2628 = fromMemory('AS 2628-2010');

const rules = (id: string, title: string, note: string, minutes: number, since2010: boolean): RuleSet => ({
  id,
  title,
  edition: '1',
  note,
  suits: is('store.since2010', since2010),
  order: 'free',
  skip: [],
  parameters: {
    fillLow: figure(of(255, 'Pa')),
    fillHigh: figure(of(300, 'Pa')),
    startLow: figure(of(245, 'Pa'), as2628),
    startHigh: figure(of(256, 'Pa')),
    settle: seconds(30),
  },
  limits: [limit(`${id}.half`, 'half', 'time', '>=', of(minutes, 'min'), as2628)],
  decision: { kind: 'simple' },
});

export const storeHalfLife: Procedure = {
  id: 'store.half-life',
  edition: '2',
  language: 2,
  title: 'Sealed store, half-life of 250 Pa',
  verdictWords: { pass: 'sealed', fail: 'leaks' },
  claims: 'tight',
  warning: `Never enter or lean over a pressurised store. Phosphine is a poison: an unproved store gives a poor kill and breeds resistance. ${defers}`,
  sources: [as2628, commonPractice],
  roles: { store: { classes: ['sealed-store'] } },
  channels: { store: { role: 'store', unit: 'Pa', title: 'Pressure in the store' } },
  states: supplyStates('Fan'),
  bring: ['Fan or blower with a valve', 'Gauge or column: say what fluid is in it', 'Soap'],
  stages: [
    look('before', 'store', 'Weather and hour', 'precondition', [
      item('hour', 'Before dawn, or between 13:00 and 15:00', { automatic: true }),
      item('wind', 'No wind, no passing cloud, no sun on the shell'),
      item('fluid', 'The column’s fluid is written down'),
    ]),
    look('look', 'store', 'Seals', 'look', [
      item('hatches', 'Hatches, lids and base plate shut; rubber, springs and latches sound'),
      item('relief-oil', 'Relief valve filled to its mark'),
    ]),
    test(
      'half',
      'store',
      'Let it fall to a half',
      [
        { ...reach('fill', 'store', 'fillLow', 'fillHigh', 'Blow it up a little over 250 Pa'), ...flows },
        act('shut', 'Valve shut, fan off', shutOff),
        { ...wait('settle', 'settle', 'Let it settle'), ...watched },
        reach('trim', 'store', 'startLow', 'startHigh', 'Wait until it stands at 250 Pa'),
      ],
      { kind: 'halfLife', channel: 'store', start: { low: 'startLow', high: 'startHigh' }, gas: { volume: 'store.volume' } },
    ),
    look('aftercare', 'store', 'Leave it safe', 'aftercare', [
      item('let-down', 'Let down to nothing', shutOff),
      item('vents', 'Vents and relief valve as they were'),
      item('log', 'Time and fluid written down'),
    ]),
  ],
  ruleSets: [
    rules('new', 'Five minutes', 'Stores bought since March 2010: half of 250 Pa left after five minutes or longer.', 5, true),
    rules('older', 'Three minutes', 'Older stores: three minutes or longer.', 3, false),
  ],
  cautions: [caution('half', 'Stand clear of lids. Never over 300 Pa: sheets buckle.'), caution('aftercare', 'Never open a hatch under pressure.')],
  faults: [
    fault('half', 'Too short', 'Hatch, lid, base plate or fan inlet', 'Soap them in that order; rubber, springs, latches'),
    fault('half', 'It rises, or falls in jumps', 'Sun, cloud or wind', 'Another hour: before dawn'),
  ],
};
