import type { Condition, Procedure, RuleSet } from '../language';
import { commonPractice, fromMemory } from '../source';
import { act, band, caution, defers, event, fault, figure, is, item, limit, look, minutes, of, reach, search, seconds, soapTime, test, wait } from './parts';
import { cylinderStates, lineOnly } from './setUps';

const osha = fromMemory('29 CFR 1910.134', '(h)(3)');
const en137 = fromMemory('EN 137:2006', 'warning device');
const en136 = fromMemory('EN 136:1998', '7.12, leaktightness');
const shortCheck = fromMemory('FwDV 7', 'short check');

const bar = (value: number) => of(value, 'bar');
const filling = { attribute: 'set.filling' } as const;
const share = (percent: number) => ({ formula: 'share', of: { of: filling, share: of(percent, '%') } });

const openNow = { makes: { cylinder: 'open' } } as const;
const shutNow = { makes: { cylinder: 'shut' } } as const;

/** What is bled has stood under pressure, and stands at nothing. */
const afterBa = (channel?: string, contents?: string) =>
  look('aftercare', 'set', 'Make it ready again', 'aftercare', [
    item('bled', 'Cylinder shut, bled to nothing', { ...shutNow, ...(channel ? { shown: { channel, high: 'bled', after: 'stood' } } : {}) }),
    item('clean', 'Cleaned and dried, face-piece stowed uncreased'),
    item('refilled', 'Cylinder filled again or changed; what it was filled to is read off its gauge', {
      needs: { cylinder: 'shut' },
      ...(contents ? { shown: { channel: contents, low: 'refilled', fresh: true } } : {}),
    }),
    item('alarm-reset', 'Alarm and motion sensor reset'),
  ]);

/** A gauge of 400 bar reads nothing to one division (common practice). */
const bled = { bled: figure(bar(5)), stood: figure(share(50)), refilled: figure(share(90), osha) } as const;

/** Where a stop is made on the way down, and how near is near enough on a gauge of 400 bar (common practice). */
const stopAt = (percent: number) => [figure(share(percent - 4)), figure(share(percent + 4))] as const;
const [[threeLow, threeHigh], [halfLow, halfHigh], [quarterLow, quarterHigh]] = [stopAt(75), stopAt(50), stopAt(25)];

const userRules = (
  id: string,
  title: string,
  note: string,
  limits: RuleSet['limits'],
  suits: string,
  /** Steps of the stop at a quarter that this school does not make: it comes before the alarm, after it, or is the alarm itself. */
  skip: RuleSet['skip'],
  ready: { readonly op: '>' | '>='; readonly source: RuleSet['limits'][number]['source'] },
): RuleSet => ({
  id,
  title,
  edition: '1',
  note,
  suits: is('set.alarm', suits),
  order: 'free',
  skip,
  parameters: {
    ...bled,
    threeLow,
    threeHigh,
    halfLow,
    halfHigh,
    quarterLow,
    quarterHigh,
    // A display shows its quarter after a pause of five seconds; the whistle needs two.
    stop: {
      value: {
        rows: [
          { when: is('set.display', true), value: of(5, 's') },
          { when: { all: [] }, value: of(2, 's') },
        ],
      },
      source: commonPractice,
    },
    supplied: figure(share(50)),
    // What opened at nine tenths and cooled still stands here; a line that has fallen further has shown its leak already.
    lookLow: figure(share(80)),
    full: figure(share(110)),
    // Twice what the high-pressure minute allows moves a dial of 10 bar steps by a whole one in this time; in less it may not move at all.
    look: seconds(30),
    settle: seconds(20),
    // Two dials of class 1.6 to 400 bar may differ by as much as both their errors.
    agree: figure(bar(20)),
    zone: figure(share(88)),
  },
  limits: [
    limit(`${id}.contents`, 'contents', 'pressure', ready.op, share(90), ready.source),
    // Nearly empty: a whistle that stops sooner is starved.
    limit(`${id}.goes-on`, 'alarm-goes-on', 'pressure', '<=', share(10)),
    limit(`${id}.look`, 'look-leak', 'graduations', '<=', of(0.5, '1')),
    ...limits,
  ],
  decision: { kind: 'simple' },
});

/** What a warning at half contents looks like is the maker’s own. */
const half = (pattern: string): Condition => ({ all: [is('set.halfWarning', true), is('set.halfPattern', pattern)] });

export const baUserCheck: Procedure = {
  id: 'ba.user-check',
  edition: '2',
  language: 2,
  title: 'Breathing set, user check',
  verdictWords: { pass: 'ready', fail: 'out of use' },
  claims: 'in order',
  warning: `A coarse look: it never replaces the high-pressure test. ${defers}`,
  sources: [osha, shortCheck, en137, commonPractice],
  roles: { set: { classes: ['breathing-set'] } },
  channels: { cylinder: { role: 'set', unit: 'bar', title: 'Cylinder gauge' }, remote: { role: 'set', unit: 'bar', title: 'Remote gauge' } },
  states: cylinderStates,
  bring: ['The set, complete', 'Its face-piece', 'The log'],
  stages: [
    look('gather', 'set', 'Identify', 'gather', [
      item('serial', 'The serial on frame and cylinder is the one in the log', { automatic: true }),
      item('in-date', 'Cylinder within its test date and its life', { unless: 'set.cylinder' }),
    ]),
    event('contents', 'set', 'Contents', [act('open', 'Open the cylinder slowly, fully', openNow)], 'cylinder', 'contents-read', 'Read the contents'),
    look('gauges', 'set', 'Gauges', 'look', [
      item('agree', 'Cylinder and remote gauge agree', { automatic: true, shown: { agree: ['cylinder', 'remote'], within: 'agree' } }),
      item('zone', 'Both stand in the full zone', { shown: { channel: 'remote', low: 'zone' } }),
    ]),
    look('face', 'set', 'Face-piece', 'test', [
      item('draws-in', 'Inlet shut with the palm, a gentle breath in: it draws to the face and stays a few seconds'),
      item('outlet', 'Breathed out: the outlet valve opens and does not stick'),
    ]),
    test(
      'look-leak',
      'set',
      'Look for a falling needle',
      [
        act('first-breath-off', 'First-breath supply off'),
        act('shut', 'Pressurise, then shut the cylinder', shutNow),
        { ...wait('line-settle', 'settle', 'Let the air in the line cool'), ...lineOnly },
      ],
      { kind: 'decay', channels: ['remote'], hold: 'look', start: { low: 'lookLow', high: 'full' } },
    ),
    event(
      'alarm',
      'set',
      'Low-air alarm',
      [
        { ...reach('three-quarters', 'remote', 'threeLow', 'threeHigh', 'Bleed slowly to three quarters, and stop'), ...lineOnly },
        wait('stop-three', 'stop', 'Stop there'),
        reach('half', 'remote', 'halfLow', 'halfHigh', 'Bleed slowly to a half, and stop'),
        wait('stop-half', 'stop', 'Stop there'),
        reach('quarter-before', 'remote', 'quarterLow', 'quarterHigh', 'Bleed slowly to a quarter, and stop'),
        wait('stop-before', 'stop', 'Stop there'),
        act('bleed', 'Bleed on slowly'),
      ],
      'remote',
      'alarm-starts',
      'The alarm starts',
    ),
    event(
      'alarm-goes-on',
      'set',
      'It goes on',
      [
        reach('quarter-after', 'remote', 'quarterLow', 'quarterHigh', 'Bleed slowly to a quarter, and stop'),
        wait('stop-after', 'stop', 'Stop there'),
        act('bleed-out', 'Bleed on until it is silent'),
      ],
      'remote',
      'alarm-stops',
      'The alarm stops',
    ),
    look('signals', 'set', 'Each signal', 'test', [
      item('sounds', 'The alarm sounds, clear and loud, without a break'),
      item('alarm-lamp', 'Its lamp is lit', { when: is('set.alarmLamp', true) }),
      item('display', 'The display showed each quarter', { when: is('set.display', true) }),
      item('half-steady', 'At half the contents its warning came, and stayed lit', { when: half('steady') }),
      item('half-blinks', 'At half the contents its warning blinked for about 20 s, then stayed lit: all of that is one warning', { when: half('blinks') }),
      item('half-other', 'At half the contents its warning came, in the pattern of the maker’s book', { when: half('other') }),
    ]),
    test(
      'supply',
      'set',
      'Supply',
      [act('open-again', 'Open the cylinder again', openNow), reach('supplied', 'remote', 'supplied', 'full', 'The remote gauge stands again')],
      {
        kind: 'check',
        items: [
          item('first-breath', 'The first breath starts it; no free flow, no flutter'),
          item('bypass', 'The bypass gives a steady flow'),
          item('shut-off', 'The shut-off stops it'),
          item('override', 'The override gives a short burst', { optional: true }),
        ],
      },
    ),
    afterBa('remote', 'cylinder'),
  ],
  ruleSets: [
    userRules(
      'quarter',
      'Alarm at a quarter',
      'The alarm starts at about one quarter; recharge at or below nine tenths.',
      [...band('quarter.alarm', 'alarm', 'pressure', share(20), share(30))],
      'quarter',
      ['quarter-before', 'stop-before', 'quarter-after', 'stop-after'],
      {
        op: '>',
        source: osha,
      },
    ),
    userRules(
      'third',
      'Alarm at a third',
      'The alarm starts at about one third; recharge at or below nine tenths.',
      [...band('third.alarm', 'alarm', 'pressure', share(30), share(36))],
      'third',
      ['quarter-before', 'stop-before'],
      {
        op: '>',
        source: osha,
      },
    ),
    userRules(
      'bar-55',
      'Alarm at 55 bar',
      'The alarm starts between 50 and 60 bar; ready from nine tenths of the nominal filling.',
      [...band('bar-55.alarm', 'alarm', 'pressure', bar(50), bar(60), en137)],
      '55 bar',
      ['quarter-after', 'stop-after'],
      {
        op: '>=',
        source: shortCheck,
      },
    ),
  ],
  cautions: [
    caution('contents', 'High-pressure air: open the valve slowly, away from faces.'),
    caution('alarm', 'The alarm is loud: tell those beside you.'),
    caution('aftercare', 'Bleed it to nothing before anything is taken apart.'),
  ],
  faults: [
    fault('contents', 'Below nine tenths', 'Not refilled, or it leaks in store', 'Refill; look again tomorrow'),
    fault('face', 'It does not stay drawn in', 'Seal, inlet or outlet valve', 'Clean the outlet valve’s seat; test the face-piece under suction'),
    fault('look-leak', 'The needle moves', 'A joint under high pressure', 'Out of use: the high-pressure test, then the soap search'),
    fault('alarm', 'It starts late or not at all', 'Dirt in the whistle or a wrong setting', 'To the workshop: no set without an alarm'),
    fault('alarm-goes-on', 'It stops early', 'Whistle starved', 'To the workshop'),
    fault('signals', 'One of them is dead', 'Battery, lamp or its wire', 'Out of use until each that is fitted works'),
    fault('supply', 'Free flow', 'First-breath lever or diaphragm', 'Press the shut-off, breathe again; to the workshop'),
  ],
};

export const baSoapSurvey: Procedure = {
  id: 'ba.soap-survey',
  edition: '2',
  language: 2,
  title: 'Breathing set, whole-set soap search',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning: defers,
  sources: [commonPractice],
  roles: { set: { classes: ['breathing-set'] } },
  channels: { cylinder: { role: 'set', unit: 'bar', title: 'Cylinder gauge' } },
  states: cylinderStates,
  bring: ['Soap solution fit for breathing gear', 'A soft brush, a lamp', 'A full cylinder'],
  stages: [
    look('gather', 'set', 'Identify and prepare', 'gather', [
      item('serial', 'The serial is the one in the log', { automatic: true }),
      item('full', 'Cylinder full; the motion alarm will sound'),
    ]),
    event(
      'contents',
      'set',
      'Full pressure first',
      [act('open', 'Open the cylinder slowly, fully: the display lights', openNow)],
      'cylinder',
      'contents-read',
      'Read the full pressure',
    ),
    test('soap', 'set', 'Soap it along the route', [act('soap-on', 'Valve open, set under pressure, lying on its face', openNow)], {
      kind: 'survey',
      outline: 'breathing-set',
      each: 'soapEach',
      route: [
        { id: 'regulator', text: 'Regulator and purge' },
        { id: 'low-pressure-hose', text: 'Low-pressure hose' },
        { id: 'hand-wheel', text: 'Hand-wheel and connector' },
        { id: 'reducer', text: 'Reducer and its relief holes' },
        { id: 'manifold', text: 'Manifold' },
        { id: 'hose-back', text: 'Set turned over: back along the hose' },
        { id: 'gauge-line', text: 'Shoulder pad lifted: gauge line, pulled out of the harness' },
        { id: 'alarm-cover', text: 'Alarm cover' },
      ],
    }),
    afterBa(undefined, 'cylinder'),
  ],
  ruleSets: [
    {
      id: 'general',
      title: 'Any stream is a leak',
      edition: '1',
      note: 'A few bubbles just after brushing are trapped air; a stream is a leak, and is mended before the flow test.',
      order: 'free',
      skip: [],
      parameters: { ...bled, ...soapTime },
      limits: [limit('general.contents', 'contents', 'pressure', '>=', share(90)), limit('general.soap', 'soap', 'grade', '<=', of(1, '1'))],
      decision: { kind: 'simple' },
    },
    {
      id: 'strict',
      title: 'Any bubble is a leak',
      edition: '1',
      note: 'The strict school: any bubble is a leak.',
      order: 'free',
      skip: [],
      parameters: { ...bled, ...soapTime },
      limits: [limit('strict.contents', 'contents', 'pressure', '>=', share(90)), limit('strict.soap', 'soap', 'grade', '<=', of(0, '1'))],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [
    caution('contents', 'High-pressure air: open the valve slowly, away from faces.'),
    caution('soap', 'Under full pressure: no face over a joint, nothing tightened under pressure.'),
  ],
  faults: [
    fault('contents', 'Below nine tenths', 'Not refilled', 'Refill first: a leak shows least at low pressure'),
    fault('soap', 'Bubbles at a joint', 'O-ring or seat', 'Let it down, change the O-ring, search again'),
    fault('soap', 'Bubbles at the relief holes', 'The reducer creeps', 'To the workshop: the reducer is not mended here'),
  ],
};

export const baHighPressure: Procedure = {
  id: 'ba.high-pressure',
  edition: '2',
  language: 2,
  title: 'Breathing set, high-pressure tightness',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning: defers,
  sources: [shortCheck, commonPractice],
  roles: { set: { classes: ['breathing-set'] } },
  channels: { line: { role: 'set', unit: 'bar', title: 'High-pressure line' } },
  states: cylinderStates,
  bring: ['A test gauge or the set’s own', 'The log'],
  stages: [
    look('gather', 'set', 'Identify', 'gather', [
      item('serial', 'The serial is the one in the log', { automatic: true }),
      item('first-breath-off', 'First-breath supply off, bypass shut'),
    ]),
    test(
      'hold',
      'set',
      'Hold one minute',
      [
        { ...reach('pressurise', 'line', 'ready', 'full', 'Open the cylinder slowly until the line stands full'), ...openNow },
        act('shut', 'Shut the cylinder', shutNow),
        { ...wait('settle', 'settle', 'Let the air in the line cool: opening warmed it by tens of degrees'), ...lineOnly },
      ],
      { kind: 'decay', channels: ['line'], hold: 'minute', start: { low: 'least', high: 'full' }, gas: { volume: 'set.trappedVolume', breathed: true } },
    ),
    search(
      'find',
      'set',
      ['hold'],
      'breathing-set',
      [act('open-to-find', 'Cylinder open again, set under pressure', openNow)],
      [
        ['hand-wheel', 'Hand-wheel and connector'],
        ['reducer', 'Reducer and its relief holes'],
        ['manifold', 'Manifold'],
        ['gauge-line', 'Gauge line, pulled out of the harness'],
        ['alarm-cover', 'Alarm cover'],
        ['hose-back', 'Hoses, turned over'],
      ],
    ),
    afterBa('line'),
  ],
  ruleSets: [
    {
      id: 'bar-10',
      title: '10 bar in a minute',
      edition: '1',
      note: 'Pressurise, shut, no more than 10 bar in 60 s.',
      order: 'free',
      skip: [],
      parameters: {
        ...bled,
        ready: figure(share(60)),
        least: figure(share(50)),
        full: figure(share(110)),
        settle: seconds(45),
        ...soapTime,
        minute: minutes(1, shortCheck),
      },
      limits: [limit('bar-10.hold', 'hold', 'loss', '<=', bar(10), shortCheck)],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [
    caution('hold', 'High-pressure air: open slowly, gauge glass away from faces.'),
    caution('aftercare', 'Bleed it to nothing before anything is taken apart.'),
  ],
  faults: [
    fault('hold', 'Falls fast at first, then hardly', 'The air in the line cools', 'Wait longer, then start the minute'),
    fault('find', 'Bubbles at a joint', 'O-ring or seat', 'Let it down, change it, and test again'),
    fault('hold', 'Falls evenly', 'A joint, the reducer’s seat or the gauge line', 'Soap search along the route'),
  ],
};

const mbar = (value: number) => of(value, 'mbar');

export const baFacepiece: Procedure = {
  id: 'ba.facepiece',
  edition: '2',
  language: 2,
  title: 'Face-piece under suction',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning: defers,
  sources: [en136, commonPractice],
  roles: { face: { classes: ['face-piece'] } },
  channels: { suction: { role: 'face', unit: 'mbar', title: 'Pressure in the face-piece' } },
  bring: ['Test head with its gauge', 'Water for the outlet valve', 'Blanking cap'],
  stages: [
    look('gather', 'face', 'Identify and fit', 'gather', [
      item('serial', 'The number is the one in the log', { automatic: true }),
      item('fitted', 'Fitted to the head without a crease; connector blanked'),
      item('wetted', 'Outlet valve wetted'),
    ]),
    test(
      'rig-proof',
      'face',
      'Prove the test kit',
      [act('blank', 'Blank the kit off'), reach('rig-suction', 'suction', 'startLow', 'startHigh', 'Draw the kit alone down')],
      {
        kind: 'decay',
        channels: ['suction'],
        hold: 'minute',
        start: { low: 'startLow', high: 'startHigh' },
      },
      { phase: 'rig', proves: true },
    ),
    test(
      'suction',
      'face',
      'Hold under suction',
      [
        act('join', 'Join kit and head'),
        reach('draw', 'suction', 'startLow', 'startHigh', 'Draw it down to 10 mbar below'),
        wait('settle', 'settle', 'Let it settle'),
        reach('trim', 'suction', 'startLow', 'startHigh', 'Trim it'),
      ],
      {
        kind: 'decay',
        channels: ['suction'],
        hold: 'minute',
        start: { low: 'startLow', high: 'startHigh' },
        gas: { volume: 'face.volume', flexible: true },
      },
    ),
    look('aftercare', 'face', 'Put it back as it was', 'aftercare', [
      item('cap-off', 'Cap and plugs out, as many as went in'),
      item('dry', 'Dried, disinfected, stowed uncreased'),
    ]),
  ],
  ruleSets: [
    {
      id: 'mbar-10',
      title: '1 mbar in a minute',
      edition: '1',
      note: '10 mbar below, one minute, a change of no more than 1 mbar either way.',
      order: 'free',
      skip: [],
      parameters: { startLow: figure(mbar(-10.1), en136), startHigh: figure(mbar(-9.9), en136), settle: seconds(10), minute: minutes(1, en136) },
      limits: [limit('mbar-10.rig', 'rig-proof', 'change', '<=', mbar(0.1)), limit('mbar-10.suction', 'suction', 'change', '<=', mbar(1), en136)],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [caution('suction', 'Never test on a face: only on the test head.')],
  faults: [
    fault(
      'suction',
      'The suction dies away',
      'Outlet valve dry or dirty, visor frame, speech diaphragm',
      'Wet and clean the outlet valve, then look at the frame',
    ),
    fault('suction', 'The suction grows', 'The air inside cools', 'Wait, then repeat'),
    fault('rig-proof', 'The kit alone loses suction', 'Hose or blanking cap', 'Remake the joint nearest the cap'),
  ],
};
