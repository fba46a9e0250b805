import type { Quantity, Unit } from '../../quantity';
import type { Condition, Limit, Parameter, Procedure, RuleSet, Source } from '../language';
import { commonPractice, fromMemory } from '../source';
import { act, defers, search, soapTime } from './parts';
import { flows, shutOff, supplyStates } from './setUps';

const inH2O: Unit = "[in_i'H2O]";
const mmH2O: Unit = 'mm[H2O]';

const f1052 = fromMemory('ASTM F1052');
const nfpa1991 = fromMemory('NFPA 1991', 'gastight integrity, by ASTM F1052');
const iso17491 = fromMemory('ISO 17491-1', 'internal pressure test');
const en943 = fromMemory('EN 943-1:2002', 'leak-tightness limit');
const osha = fromMemory('29 CFR 1910.120', 'Appendix A, Part A');

interface School extends Pick<RuleSet, 'id' | 'title' | 'edition' | 'note' | 'skip'> {
  readonly unit: Unit;
  /** Fill window, start window, and the rig proof's limit, each in `unit`. */
  readonly fill: readonly [number, number];
  readonly start: readonly [number, number];
  readonly settleMin: number;
  /** How far the needle may stray from its window while the suit settles and air is added. */
  readonly stray: number;
  readonly holdMin: number;
  readonly letDown?: readonly [number, number];
  readonly rigLoss: number;
  readonly source: Source;
  readonly limit: Pick<Limit, 'of' | 'op' | 'source'> & { readonly value: Quantity };
  readonly builtTo: string;
}

/** The four schools differ in figures alone, so one row of figures makes each rule set. */
function ruleSet(s: School): RuleSet {
  const from = (value: number, source = s.source): Parameter => ({ value: { value, unit: s.unit }, source });
  const minutes = (value: number, source = s.source): Parameter => ({ value: { value, unit: 'min' }, source });
  const suits: Condition = { attribute: 'suit.buildStandard', is: [s.builtTo] };
  return {
    id: s.id,
    title: s.title,
    edition: s.edition,
    note: s.note,
    suits,
    order: 'free',
    skip: s.skip,
    parameters: {
      fillLow: from(s.fill[0]),
      fillHigh: from(s.fill[1], commonPractice),
      settle: minutes(s.settleMin),
      // It settles where it was filled to, or where it was let down to; a needle may stray a little while air is added.
      keepLow: from(Number(((s.letDown ?? s.fill)[0] - s.stray).toPrecision(6)), commonPractice),
      keepHigh: from(Number(((s.letDown ?? s.fill)[1] + s.stray).toPrecision(6)), commonPractice),
      ...(s.letDown ? { letDownLow: from(s.letDown[0], commonPractice), letDownHigh: from(s.letDown[1], commonPractice) } : {}),
      startLow: from(s.start[0]),
      // Nominal to nominal plus a tenth of the permitted loss.
      startHigh: from(s.start[1], commonPractice),
      hold: minutes(s.holdMin),
      // Every valve that no adapter sits in has a plug.
      plugs: { value: { formula: 'less', of: { a: { attribute: 'suit.exhaustValves' }, b: { attribute: 'suit.adapters' } } }, source: commonPractice },
      plug: { value: { value: 2, unit: 's' }, source: commonPractice },
      ...soapTime,
      rigHold: minutes(1, commonPractice),
      rigSettle: { value: { value: 20, unit: 's' }, source: commonPractice },
      // A kelvin between inside and outside is worth more than 3 mbar of 16.5: half of one is what a hold still bears.
      asWarm: { value: { value: 0.5, unit: 'K' }, source: commonPractice },
    },
    limits: [
      { id: `${s.id}.rig`, stage: 'rig-proof', of: 'loss', op: '<=', value: { value: s.rigLoss, unit: s.unit }, source: commonPractice },
      { id: `${s.id}.inflate`, stage: 'inflate', ...s.limit },
    ],
    decision: { kind: 'simple' },
  };
}

export const suitInflation: Procedure = {
  id: 'suit.inflation',
  edition: '2',
  language: 2,
  title: 'Gas-tight suit, inflation test',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning: `Low pressure, from a regulated supply: never beyond the maker’s limit. Nobody kneels on the suit or leans over its seams. ${defers}`,
  sources: [f1052, nfpa1991, iso17491, en943, osha, commonPractice],
  setUp: [
    { id: 'plugs-in', text: 'Every further exhaust valve plugged, adapters hard in, the zip shut to its very end' },
    { id: 'gloves-on', text: 'Gloves, and the face plate of an open-faced suit, joined and hard' },
  ],
  bring: [
    'Calibrated test kit',
    'Adapters for that make of valve',
    'A plug for every further exhaust valve, counted',
    'For an open-faced suit: the face plate with both O-rings',
    'Soap',
  ],
  roles: { suit: { classes: ['gas-tight-suit'] } },
  channels: {
    suit: { role: 'suit', unit: 'Pa', title: 'Suit pressure' },
    inside: { role: 'suit', unit: 'Cel', title: 'Air inside the suit', optional: true },
    outside: { role: 'suit', unit: 'Cel', title: 'Air outside the suit', optional: true },
  },
  states: supplyStates('Supply'),
  stages: [
    {
      id: 'gather',
      role: 'suit',
      title: 'Identify and gather',
      attempts: 3,
      onFail: 'endRun',
      phase: 'gather',
      steps: [],
      method: {
        kind: 'check',
        items: [
          { id: 'serial', text: 'The serial on the suit is the one in the log and on the tag', automatic: true },
          { id: 'flat', text: 'Suit laid flat, face down, room to swell, nothing sharp near it' },
          { id: 'adapters', text: 'Adapters for this make of valve in, as many as the register says' },
          { id: 'plug-in', text: 'A plug in the next exhaust valve that no adapter sits in', times: 'plugs', for: 'plug' },
        ],
      },
    },
    {
      id: 'look',
      role: 'suit',
      title: 'Look it over',
      attempts: 2,
      onFail: 'endRun',
      phase: 'look',
      steps: [],
      method: {
        kind: 'check',
        items: [
          { id: 'sound', text: 'Visor, seams, gloves and the bottoms of the socks are sound: no cut, crack or tacky place', automatic: true },
          {
            id: 'diaphragms',
            text: 'Valve covers off: turned on until the lug stands 6 to 8 mm past the stop, a thin blade between lug and stop, then back and off; diaphragms out, kept flat and clean',
          },
          { id: 'zip', text: 'Zip run to its very end, teeth clean' },
        ],
      },
    },
    {
      id: 'open-face',
      role: 'suit',
      title: 'Fit the face plate',
      when: { attribute: 'suit.openFaced', is: [true] },
      attempts: 2,
      onFail: 'endRun',
      phase: 'look',
      steps: [],
      method: {
        kind: 'check',
        items: [
          { id: 'rings', text: 'Gloves sound and both ring O-rings in' },
          { id: 'regulating', text: 'Regulating valve at zero and capped' },
          { id: 'plate', text: 'Zip open to fit the plate; edge of the face seal outside the screws; wing nuts hard; zip shut; gauge on the plate' },
        ],
      },
    },
    {
      id: 'rig-proof',
      role: 'suit',
      title: 'Prove the test kit',
      attempts: 3,
      onFail: 'continue',
      phase: 'rig',
      proves: true,
      steps: [
        { id: 'blank', kind: 'act', text: 'Blank the kit off at the adapter' },
        {
          id: 'rig-pressure',
          kind: 'reach',
          channel: 'suit',
          low: 'startLow',
          high: 'fillHigh',
          text: 'Bring the kit alone to the test pressure, and shut the supply',
          ...shutOff,
        },
        { id: 'rig-settle', kind: 'wait', s: 'rigSettle', text: 'Let the air in the kit cool' },
      ],
      method: { kind: 'decay', channels: ['suit'], hold: 'rigHold', start: { low: 'startLow', high: 'fillHigh' }, top: 'fillHigh' },
    },
    {
      id: 'inflate',
      role: 'suit',
      title: 'Inflate, settle and hold',
      attempts: 3,
      onFail: 'continue',
      phase: 'test',
      steps: [
        { id: 'connect', kind: 'act', text: 'Take the blank off and join the kit to the suit' },
        {
          id: 'fill',
          kind: 'reach',
          channel: 'suit',
          low: 'fillLow',
          high: 'fillHigh',
          text: 'Fill into the window, smoothing the folds as it swells',
          ...flows,
        },
        { id: 'let-down', kind: 'reach', channel: 'suit', low: 'letDownLow', high: 'letDownHigh', text: 'Let it down to the middle step' },
        {
          id: 'settle',
          kind: 'wait',
          s: 'settle',
          keep: { channel: 'suit', low: 'keepLow', high: 'keepHigh', topUps: 10 },
          shown: { agree: ['inside', 'outside'], within: 'asWarm' },
          text: 'Let it stretch and settle until it is as warm as the room; keep it in its window, adding air as it sinks',
        },
        {
          id: 'full-look',
          kind: 'act',
          text: 'Look it over again while it is full: folds out, sock bottoms, gloves, visor',
        },
        { id: 'trim', kind: 'reach', channel: 'suit', low: 'startLow', high: 'startHigh', text: 'Supply shut; let it down into the start window', ...shutOff },
      ],
      method: {
        kind: 'decay',
        channels: ['suit'],
        hold: 'hold',
        start: { low: 'startLow', high: 'startHigh' },
        top: 'fillHigh',
        gas: { volume: 'suit.volume', flexible: true },
      },
    },
    search(
      'find',
      'suit',
      ['inflate'],
      'gas-tight-suit',
      [act('keep-full', 'Air added again, no higher than it was filled; suit-safe soap', { makes: { supply: 'on' } })],
      [
        ['zip-end', 'Very end of the zip'],
        ['zip', 'Zip, along both tapes'],
        ['exhaust-valves', 'Exhaust valves, plugs and adapters'],
        ['air-inlet', 'Air inlet'],
        ['visor', 'Visor and its seal'],
        ['seams', 'Seams, head to toe'],
        ['gloves', 'Gloves and their rings'],
        ['boots', 'Sock bottoms and boots'],
      ],
    ),
    {
      id: 'aftercare',
      role: 'suit',
      title: 'Put it back as it was',
      attempts: 3,
      onFail: 'continue',
      phase: 'aftercare',
      steps: [],
      method: {
        kind: 'check',
        items: [
          { id: 'let-down-safe', text: 'Pressure let down slowly to nothing', ...shutOff },
          { id: 'plug-out', text: 'One plug out. A forgotten one stops the wearer’s breath out', times: 'plugs', for: 'plug' },
          { id: 'plugs-out', text: 'Adapters and face plate out, nothing left in any valve' },
          { id: 'zip-open', text: 'Zip open' },
          { id: 'diaphragms-back', text: 'Diaphragms clean, each pressed over its pin' },
          { id: 'covers', text: 'Covers on by three clicks, not cross-threaded' },
          { id: 'stored', text: 'Log written; hang label with result, date, next due and tester; suit folded and stored, or tagged and set apart' },
        ],
      },
    },
  ],
  ruleSets: [
    ruleSet({
      id: 'in-h2o-4',
      title: '4 inH2O',
      edition: '1',
      note: 'Fill into 5–6, one minute, let down to 4.0, hold four minutes; 3.2 or more must be left.',
      skip: ['let-down'],
      unit: inH2O,
      fill: [5, 6],
      start: [4, 4.08],
      stray: 0.1,
      settleMin: 1,
      holdMin: 4,
      rigLoss: 0.08,
      source: f1052,
      limit: { of: 'end', op: '>=', value: { value: 3.2, unit: inH2O }, source: f1052 },
      builtTo: 'ASTM F1052',
    }),
    ruleSet({
      id: 'mm-h2o-100',
      title: '100 mmH2O',
      edition: '1',
      note: '125 mm at least one minute, longer while the air in and outside the suit differ in temperature; 100 mm; hold four minutes; 80 mm or more must be left.',
      skip: ['let-down'],
      unit: mmH2O,
      fill: [125, 130],
      start: [100, 102],
      stray: 2.5,
      settleMin: 1,
      holdMin: 4,
      rigLoss: 2,
      source: nfpa1991,
      limit: { of: 'end', op: '>=', value: { value: 80, unit: mmH2O }, source: nfpa1991 },
      builtTo: 'NFPA 1991',
    }),
    ruleSet({
      id: 'mbar-16.5',
      title: '16.5 mbar',
      edition: '1',
      note: '17.5; let down to 17.0 and kept there ten minutes, adding air; trimmed to 16.5; hold six minutes; it may lose no more than 3 mbar.',
      skip: [],
      unit: 'mbar',
      fill: [17.5, 18],
      letDown: [16.9, 17.1],
      start: [16.5, 16.8],
      stray: 0.3,
      settleMin: 10,
      holdMin: 6,
      rigLoss: 0.3,
      source: iso17491,
      limit: { of: 'loss', op: '<=', value: { value: 3, unit: 'mbar' }, source: en943 },
      builtTo: 'EN 943-1',
    }),
    ruleSet({
      id: 'in-h2o-2',
      title: '2 inH2O',
      edition: '1',
      note: '3 inH2O at least one minute; 2.0; hold three minutes; four fifths of the start pressure must be left.',
      skip: ['let-down'],
      unit: inH2O,
      fill: [3, 3.5],
      start: [2, 2.04],
      stray: 0.1,
      settleMin: 1,
      holdMin: 3,
      rigLoss: 0.04,
      source: osha,
      limit: { of: 'ratio', op: '>=', value: { value: 80, unit: '%' }, source: osha },
      builtTo: '29 CFR 1910.120',
    }),
  ],
  cautions: [
    { before: 'rig-proof', text: 'Set the supply regulator low before you open it. Never go over the top of the fill window.' },
    { before: 'inflate', text: 'Stand clear of the visor. A suit can burst at a seam: fill slowly, never over the top of the window.' },
    { before: 'aftercare', text: 'Let the pressure down slowly through the kit before you take anything off.' },
  ],
  faults: [
    {
      stage: 'find',
      sign: 'A stream at one place',
      cause: 'Zip end, valve seat, glove ring or seam',
      next: 'Mark it and go on: there may be more; a retest after the repair',
    },
    {
      stage: 'inflate',
      sign: 'Falls evenly, and so did the kit alone',
      cause: 'The test kit leaks',
      next: 'Prove the kit again with the blank on; soap its joints',
    },
    {
      stage: 'inflate',
      sign: 'Falls fast at first, then hardly',
      cause: 'Not settled: folds stretching, air cooling',
      next: 'Settle longer and start again; keep sun and draught off',
    },
    { stage: 'inflate', sign: 'Falls evenly', cause: 'Zip end, a valve seat or a plug', next: 'Soap zip, valves, visor, seams, gloves, in that order' },
    { stage: 'inflate', sign: 'Rises', cause: 'The air inside warms', next: 'Wait until suit and room are equally warm, then repeat' },
    {
      stage: 'rig-proof',
      sign: 'The kit alone loses pressure',
      cause: 'A joint, the blank or the hose',
      next: 'Remake the joint nearest the blank, prove it again',
    },
  ],
};
