import type { Procedure, RuleSet } from '../language';
import { commonPractice, fromMemory } from '../source';
import { act, caution, defers, fault, figure, is, item, limit, look, of, reach, search, soapTime, test, wait, seconds } from './parts';
import { flows, shutOff, supplyStates, watched } from './setUps';

const as2628 = fromMemory('AS 2628-2010');

const rules = (id: string, title: string, note: string, minutes: number, since2010: boolean | null): RuleSet => ({
  id,
  title,
  edition: '1',
  note,
  ...(since2010 === null ? {} : { suits: is('store.since2010', since2010) }),
  order: 'free',
  skip: ['ratio'],
  parameters: {
    fillLow: figure(of(255, 'Pa')),
    fillHigh: figure(of(300, 'Pa')),
    startLow: figure(of(245, 'Pa'), as2628),
    startHigh: figure(of(256, 'Pa')),
    settle: seconds(30),
    ...soapTime,
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
    test(
      'ratio',
      'store',
      'Half of it left',
      [
        { ...reach('oil-fill', 'store', 'fillLow', 'fillHigh', 'Blow it up a little over 25 mm of oil'), ...flows },
        act('oil-shut', 'Valve shut, fan off', shutOff),
        { ...wait('oil-settle', 'settle', 'Let it settle'), ...watched },
        reach('oil-trim', 'store', 'startLow', 'startHigh', 'Wait until the relief valve’s column stands 25 mm apart'),
      ],
      {
        kind: 'decay',
        channels: ['store'],
        hold: 'hold',
        start: { low: 'startLow', high: 'startHigh' },
        top: 'fillHigh',
        gas: { volume: 'store.volume' },
      },
    ),
    search(
      'find',
      'store',
      ['half', 'ratio'],
      'store',
      [act('air-on', 'Fan on again, gently: soap while air is added', flows)],
      [
        ['top-hatch', 'Top hatch'],
        ['outlet-lid', 'Outlet and its lid'],
        ['base', 'Base and its seal'],
        ['fan-inlet', 'Fan inlet'],
        ['eaves', 'Eaves and sheet seams'],
        ['relief-valve', 'Relief valve'],
      ],
    ),
    look('aftercare', 'store', 'Leave it safe', 'aftercare', [
      item('let-down', 'Let down to nothing', shutOff),
      item('vents', 'Vents and relief valve as they were'),
      item('log', 'Time and fluid written down'),
    ]),
  ],
  ruleSets: [
    rules('new', 'Five minutes', 'Stores bought since March 2010: half of 250 Pa left after five minutes or longer.', 5, true),
    {
      ...rules(
        'oil-25',
        '25 mm of oil, half of it left',
        'On the store’s own relief valve: 25 mm of oil of 0.88 is 216 Pa. Half of it is left after five minutes, after three in an older store.',
        5,
        null,
      ),
      skip: ['half'],
      parameters: {
        fillLow: figure(of(222, 'Pa')),
        fillHigh: figure(of(260, 'Pa')),
        // Oil of 0.88: 25 mm are 215.7 Pa. A millimetre of it is read either way.
        startLow: figure(of(207, 'Pa')),
        startHigh: figure(of(224, 'Pa')),
        settle: seconds(30),
        hold: {
          value: {
            rows: [
              { when: is('store.since2010', true), value: of(5, 'min') },
              { when: { all: [] }, value: of(3, 'min') },
            ],
          },
          source: as2628,
        },
        ...soapTime,
      },
      limits: [limit('oil-25.ratio', 'ratio', 'ratio', '>=', of(50, '%'), as2628)],
    },
    rules('older', 'Three minutes', 'Older stores: three minutes or longer.', 3, false),
  ],
  cautions: [caution('half', 'Stand clear of lids. Never over 300 Pa: sheets buckle.'), caution('aftercare', 'Never open a hatch under pressure.')],
  faults: [
    fault('half', 'Too short', 'Hatch, lid, base plate or fan inlet', 'Soap them in that order; rubber, springs, latches'),
    fault('ratio', 'Less than half is left', 'Hatch, lid, base plate or fan inlet', 'Soap them in that order while air is added'),
    fault('find', 'It bubbles', 'That seal', 'Mend it, and do the test again'),
    fault('half', 'It rises, or falls in jumps', 'Sun, cloud or wind', 'Another hour: before dawn'),
  ],
};
