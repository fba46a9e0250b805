import type { Quantity } from '../../quantity';
import type { Condition, Limit, Procedure, Requirement, RuleSet, Stage, Value } from '../language';
import { commonPractice, fromMemory } from '../source';
import {
  act,
  caution,
  defers,
  fault,
  figure,
  gallon,
  inH2O,
  is,
  item,
  limit,
  look,
  minutes,
  of,
  reach,
  search,
  seconds,
  soapTime,
  test,
  torque,
  wait,
} from './parts';
import { flows, reliefStates, shutOff, supplyStates, watched } from './setUps';

const adr = fromMemory('ADR/UN 6.5.4.4, 6.5.6.7.3; 49 CFR 178.813');
const carb = fromMemory('CARB TP-201.3');
const cccccc = fromMemory('40 CFR 63 subpart CCCCCC', '63.11120(a)(2)');
const cargoRule = fromMemory('40 CFR 63.425(e)(1)', 'table 2; method 27');

const kPa = (value: number) => of(value, 'kPa');
const h2o = (value: number) => of(value, inH2O);

export const tankIbc: Procedure = {
  id: 'tank.ibc',
  edition: '2',
  language: 2,
  title: 'Transport tank (IBC), leakproofness',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning: `A tank under air can burst: regulated supply with its own relief, nobody in line with a closure. ${defers}`,
  sources: [adr, commonPractice],
  roles: { tank: { classes: ['ibc'] } },
  channels: { tank: { role: 'tank', unit: 'kPa', title: 'Test gauge' } },
  states: { ...supplyStates('Supply'), ...reliefStates },
  bring: ['Regulated supply with its own relief valve', 'Test gauge of the right scale', 'Explosion-protected lamp, mirror', 'Soap'],
  stages: [
    look('gather', 'tank', 'Before', 'precondition', [
      item('clean', 'Empty, cleaned, gas-free', { automatic: true }),
      item('lamp', 'Lamp explosion-protected', { automatic: true, when: is('tank.flammable', true) }),
      item('torch', 'It held nothing flammable: an ordinary torch will do', { when: is('tank.flammable', false) }),
      item('plate', 'Plate read: the tank of the log'),
    ]),
    look('outside', 'tank', 'Look outside', 'look', [item('shell', 'Shell, frame and closures sound', { automatic: true }), item('gaskets', 'Gaskets whole')]),
    look('inside', 'tank', 'Look inside', 'look', [item('inside-clean', 'Inside sound, through the manhole with lamp and mirror', { optional: true })]),
    test(
      'hold',
      'tank',
      'Hold under air',
      [
        act('relief-out', 'Relief valve out, its place blanked, test gauge in', { makes: { reliefValve: 'out' } }),
        { ...reach('pressurise', 'tank', 'low', 'top', 'Pressurise slowly'), needs: { reliefValve: 'out' }, ...flows },
        act('supply-off', 'Supply shut off before watching', shutOff),
        { ...wait('settle', 'settle', 'Let the air settle'), ...watched },
      ],
      { kind: 'decay', channels: ['tank'], hold: 'hold', start: { low: 'low', high: 'top' }, top: 'top', gas: { volume: 'tank.volume' } },
    ),
    test(
      'soap',
      'tank',
      'Soap every fitting',
      [{ ...reach('pressure-on', 'tank', 'low', 'top', 'Pressure still on'), needs: { reliefValve: 'out' }, ...flows }],
      {
        kind: 'survey',
        outline: 'ibc',
        each: 'soapEach',
        route: [
          { id: 'manhole', text: 'Manhole and its gasket' },
          { id: 'filling', text: 'Filling opening' },
          { id: 'relief-place', text: 'Blank in the relief valve’s place' },
          { id: 'vent', text: 'Vent and dip-tube fittings' },
          { id: 'seams', text: 'Seams, all round' },
          { id: 'outlet', text: 'Outlet valve and cap, underneath with lamp and mirror' },
        ],
      },
    ),
    look('aftercare', 'tank', 'Put it back as it was', 'aftercare', [
      item('let-down', 'Supply off, let down slowly to nothing', shutOff),
      item('blank-out', 'Blank out'),
      item('relief-back', 'Relief valve back', { makes: { reliefValve: 'in' } }),
      item('stamped', 'Plate: certification number, month and year; room left for the next one', { needs: { reliefValve: 'in' } }),
    ]),
  ],
  ruleSets: (
    [
      ['un', 'UN, 20 kPa ten minutes', kPa(20), kPa(25), adr, 'At least 20 kPa for at least ten minutes, no leakage of air.', []],
      [
        'psi-2',
        '2 psi school',
        of(2, '[psi]'),
        of(2.5, '[psi]'),
        commonPractice,
        'Bubbles decide, the gauge is information: a dial of 1 psi lines will do. Looked at every 30 months, pressure every 60. It never yields a UN mark.',
        ['inside'],
      ],
    ] as const
  ).map(([id, title, low, top, source, note, skip]): RuleSet => ({
    id,
    title,
    edition: '1',
    note,
    suits: is('tank.school', id),
    order: 'free',
    skip,
    parameters: { low: figure(low, source), top: figure(top), hold: minutes(10, source), settle: minutes(2), soapEach: seconds(5) },
    limits: [
      limit(`${id}.soap`, 'soap', 'grade', '<=', of(0, '1'), source),
      limit(`${id}.hold`, 'hold', 'ratio', '>=', of(98, '%'), commonPractice, {
        // The UN test is read off its gauge; where bubbles decide, a needle that fell and nothing that bubbled decide nothing.
        ...(id === 'un' ? {} : { sends: 'It fell and nothing bubbled: soap gauge line, blank and closures again, and hold it once more' }),
      }),
    ],
    decision: { kind: 'simple' },
  })),
  cautions: [
    caution('hold', 'Never over the window, and nobody over a closure.'),
    caution('soap', 'Nothing is tightened under pressure.'),
    caution('pressurise', 'Many dials have psi inside and bar outside: 2 on the outer scale is fourteen times too much.'),
    caution('aftercare', 'A tank without its relief valve must not leave: put it back first.'),
  ],
  faults: [
    fault('hold', 'Falls evenly', 'Closure, blank or gauge line', 'Soap: blank first, then closures'),
    fault('hold', 'Falls at first', 'The air cools', 'Settle longer'),
    fault('soap', 'Bubbles underneath', 'Outlet valve', 'Mirror and lamp; new seal'),
  ],
};

const ibcLooks: readonly Stage[] = tankIbc.stages.filter((s) => s.id === 'gather' || s.id === 'outside');

/** Every thirty months between two tests under pressure: the outside, and what protects it. */
export const tankIbcLook: Procedure = {
  id: 'tank.ibc-look',
  edition: '1',
  language: 2,
  title: 'Transport tank (IBC), looked at outside',
  verdictWords: { pass: 'in order', fail: 'not in order' },
  claims: 'in order',
  warning: `It says nothing of its tightness: that is another test. ${defers}`,
  sources: [adr, commonPractice],
  roles: tankIbc.roles,
  channels: {},
  bring: ['Lamp and mirror', 'Stamps for the plate'],
  stages: [
    ...ibcLooks,
    look('fittings', 'tank', 'Service equipment', 'test', [
      item('relief-works', 'Relief valve clean, free, of the set pressure on the plate'),
      item('outlet-works', 'Outlet valve opens and shuts; its cap on its chain'),
      item('marks', 'Marks, plate and labels can be read'),
    ]),
    look('aftercare', 'tank', 'Mark it', 'aftercare', [item('stamped', 'Plate: month and year of the look; room left for the next one')]),
  ],
  ruleSets: [
    {
      id: 'general',
      title: 'Every thirty months',
      edition: '1',
      note: 'Between two tests under pressure, on the same cycle.',
      order: 'free',
      skip: [],
      parameters: {},
      limits: [],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [caution('fittings', 'Nothing under pressure is opened: let it down first.')],
  faults: [fault('fittings', 'Relief valve stuck', 'Residue', 'Clean or change it; test it before it goes back')],
};

const wet = look('let-down', 'tank', 'Put it back as it was', 'aftercare', [
  item('let-down-slow', 'Let down slowly to nothing'),
  item('valves-back', 'Relief valves refitted at the torque of their approval: 20 to 50 ft·lb is one', {
    shown: { channel: 'torque', low: 'torqueLow', high: 'torqueHigh' },
  }),
  item('separators', 'Separator valves back and locked'),
  item('caps', 'Caps on, adapters closed'),
  item('pumps', 'Pumps on, gauge and nitrogen off the site'),
]);

/** What went in by the vent pipe had no coupler that could leak. */
const proveAssembly = (when?: Condition): Stage =>
  test(
    'assembly',
    'tank',
    'Prove the assembly',
    [
      act('blind', 'Test assembly blanked off'),
      { ...reach('assembly-up', 'tank', 'assemblyLow', 'assemblyHigh', 'Bring it alone to 2 inH2O, and shut the nitrogen off'), ...shutOff },
    ],
    {
      kind: 'decay',
      channels: ['tank'],
      hold: 'minute',
      start: { low: 'assemblyLow', high: 'assemblyHigh' },
    },
    { phase: 'rig', ...(when ? { when } : {}) },
  );

const needs = (id: string, text: string, what: Value, value: Value, source = commonPractice): Requirement => ({ id, text, of: what, op: '>=', value, source });

/** Tank by tank, as the printout of the gauge names them; tanks that are joined are one space, watched as one. */
const vapourTanks: Procedure['lists'] = {
  tanks: { part: 'connected-tank', title: 'Tanks', one: 'Tank', most: 12, count: ['tank.tanks'], together: { by: 'manifold', sums: ['capacity', 'ullage'] } },
};
const eachTank = { each: { list: 'tanks' } } as const;
const allUllage: Value = { formula: 'total', of: { each: { attribute: 'tanks.ullage' } } };
/** Nobody may fill faster: what stands at its pressure sooner is the assembly that is still blanked off. */
const fills = { volume: 'tanks.ullage', most: 'nitrogenMost' } as const;
const nitrogen = { nitrogenLeast: figure(of(1, '[cft_i]/min')), nitrogenMost: figure(of(5, '[cft_i]/min')) };
/** Where a flow meter is in the line it decides; the rise of pressure times the ullage is looked at besides, because a leak reads low by it. */
const nitrogenSet = act('nitrogen-set', 'Nitrogen set to flow at 1 to 5 ft³/min', { shown: { channel: 'flow', low: 'nitrogenLeast', high: 'nitrogenMost' } });
const vapourChannels: Procedure['channels'] = {
  tank: { role: 'tank', unit: inH2O, title: 'Manometer' },
  flow: { role: 'tank', unit: '[cft_i]/min', title: 'Flow meter of the nitrogen', optional: true },
  torque: { role: 'tank', unit: torque, title: 'Torque wrench', optional: true },
};
const refit: RuleSet['parameters'] = { torqueLow: figure(of(20, torque)), torqueHigh: figure(of(50, torque)) };
/** Once the test is over, everything may be soaped. */
const searchTank = search(
  'find',
  'tank',
  ['pressure'],
  'tank',
  [act('nitrogen-again', 'Nitrogen on again, no higher than it was', flows)],
  [
    ['vent', 'Vent caps'],
    ['adapters', 'Vapour and drop-tube adapters'],
    ['fill-cap', 'Fill caps'],
    ['hatch', 'Hatches, gauge and probe caps'],
    ['outlet', 'Lines and valves'],
  ],
);
const vapourGas = { volume: 'tanks.ullage' } as const;

/** What was stirred up evaporates into the space that is watched. Common practice. */
const waits: readonly Requirement[] = [
  needs('delivery', 'Wait: 8 h since the last bulk delivery', { attribute: 'tank.sinceDelivery' }, of(8, 'h')),
  needs('liquid-test', 'Wait: 24 h since the last liquid test', { attribute: 'tank.sinceLiquidTest' }, of(24, 'h')),
  needs('fuelling', 'Wait: 30 min since the last fuelling', { attribute: 'tank.sinceFuelling' }, of(30, 'min')),
];

const ten = (id: string, title: string, note: string, assemblyLeft: number, limits: readonly Limit[], hold: Value, more: Partial<RuleSet>): RuleSet => ({
  id,
  title,
  edition: '1',
  note,
  order: 'free',
  skip: [],
  prompts: [{ stage: 'pressure', every: of(1, 'min'), text: 'Read the manometer and write it down', byEye: true, reads: true, source: commonPractice }],
  requires: [
    needs(
      'ullage-share',
      'Ullage is too small: 15 % at least',
      { attribute: 'tanks.ullage' },
      { formula: 'share', of: { of: { attribute: 'tanks.capacity' }, share: of(15, '%') } },
    ),
    needs(
      'ullage-small',
      'Ullage is too small: 300 US gal at least under 1000 US gal',
      { attribute: 'tanks.ullage' },
      {
        rows: [
          { when: { attribute: 'tanks.capacity', below: of(1000, gallon) }, value: of(300, gallon) },
          { when: { attribute: 'tanks.capacity', from: of(1000, gallon) }, value: of(0, gallon) },
        ],
      },
    ),
    { ...needs('ullage-most', 'More than 30 000 US gal of ullage together', allUllage, of(30_000, gallon)), op: '<=' },
    ...waits,
  ],
  parameters: {
    assemblyLow: figure(h2o(2)),
    assemblyHigh: figure(h2o(2.1)),
    minute: minutes(1),
    fillLow: figure(h2o(10.95)),
    fillHigh: figure(h2o(11.1)),
    startLow: figure(h2o(10)),
    startHigh: figure(h2o(10.04)),
    settle: minutes(10),
    ...nitrogen,
    ...refit,
    ...soapTime,
    poppets: figure({
      rows: [
        { when: is('tank.tieTest', true), value: { attribute: 'tank.poppets' } },
        { when: { all: [] }, value: of(0, '1') },
      ],
    }),
    press: seconds(2),
    hold: figure(hold),
  },
  limits: [limit(`${id}.assembly`, 'assembly', 'end', '>=', h2o(assemblyLeft)), ...limits],
  decision: { kind: 'simple' },
  ...more,
});

const rounded = { round: { unit: inH2O, decimals: 1 } } as const;
// Of the authority that the item names, and not of the day: whoever tests does not choose what may be lost.
const table: Value = { table: 'times', figure: 'permittedLoss' };

export const tankVapour10: Procedure = {
  id: 'tank.vapour-10',
  edition: '2',
  language: 2,
  title: 'Vapour system, 10 inH2O',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning: `Nitrogen asphyxiates; fuel vapour explodes. The supply needs its own relief valve. ${defers}`,
  sources: [commonPractice],
  roles: { tank: { classes: ['storage-tank'] } },
  lists: vapourTanks,
  tables: { times: { kind: 'vapour-times', by: 'tanks.ullage', named: 'tank.authority' } },
  channels: vapourChannels,
  states: supplyStates('Nitrogen'),
  bring: [
    'Nitrogen, 1 to 5 ft³/min, with its own relief valve',
    'Manometer to 0.01 inH2O',
    'Vent caps',
    'The printout of the gauge: capacity and ullage of each tank',
  ],
  stages: [
    look('before', 'tank', 'Before', 'precondition', [
      item('valves-out', 'Relief valves out, vents capped', { automatic: true }),
      item('pumps-off', 'Pumps off'),
      item('adapters', 'Adapter caps off, separator valves closed'),
      item('relief', 'The supply has its own relief valve', { automatic: true }),
    ]),
    proveAssembly(is('tank.nitrogenBy', 'coupler')),
    test(
      'pressure',
      'tank',
      'Hold at ten inches',
      [
        nitrogenSet,
        { ...reach('nitrogen', 'tank', 'fillLow', 'fillHigh', 'Nitrogen to 11 inH2O. Not reached: it leaks'), orFails: true, fills, ...flows },
        act('nitrogen-shut', 'Nitrogen shut off', shutOff),
        wait('settle', 'settle', 'Ten minutes; only test gear may be soaped'),
        { ...reach('trim', 'tank', 'startLow', 'startHigh', 'Trim it into 10.00 to 10.04'), ...watched },
      ],
      { kind: 'decay', channels: ['tank'], hold: 'hold', start: { low: 'startLow', high: 'startHigh' }, top: 'fillHigh', gas: vapourGas },
      eachTank,
    ),
    searchTank,
    look(
      'tie',
      'tank',
      'Tank-tie',
      'test',
      [
        item('poppet', 'The next poppet pressed: the manometer dips', {
          times: 'poppets',
          for: 'press',
          sends: 'These tanks are not tied: find the closed line. Of tightness it says nothing',
        }),
      ],
      { when: is('tank.tieTest', true) },
    ),
    wet,
  ],
  ruleSets: [
    ten(
      'in-use',
      'By the table, 0.25 left at the assembly',
      'Times and losses from the authority’s table; the assembly must keep 0.25 of its 2 inH2O.',
      0.25,
      [limit('in-use.loss', 'pressure', 'loss', '<=', table, commonPractice, rounded)],
      { table: 'times', figure: 'hold' },
      { suits: is('tank.aboveGround', false) },
    ),
    ten(
      'stricter',
      'By the table, 1.75 left at the assembly',
      'The stricter reading: the assembly must keep 1.75 of its 2 inH2O.',
      1.75,
      [limit('stricter.loss', 'pressure', 'loss', '<=', table, commonPractice, rounded)],
      { table: 'times', figure: 'hold' },
      {},
    ),
    ten(
      'above-ground',
      'Above ground',
      '0.1 inH2O in fifteen minutes, whatever the ullage.',
      0.25,
      [limit('above-ground.loss', 'pressure', 'loss', '<=', h2o(0.1), commonPractice, rounded)],
      of(15, 'min'),
      { suits: is('tank.aboveGround', true) },
    ),
  ],
  cautions: [
    caution('assembly', 'Nitrogen asphyxiates: stay out of pits and low places.'),
    caution('pressure', 'Never over 11.1 inH2O: tank tops lift.'),
    caution('let-down', 'No spark, no engine near while it is let down.'),
  ],
  faults: [
    fault('pressure', 'Eleven inches are not reached', 'A large leak: cap, adapter, poppet', 'Listen at the caps, soap the adapters'),
    fault('pressure', 'Falls evenly', 'Vent cap, adapter or poppet', 'Soap caps first; after the test is over, the rest'),
    fault('pressure', 'Rises', 'Vapour warms or fuel evaporates', 'Wait for even weather'),
    fault('assembly', 'The assembly sinks', 'Hose or valve of the assembly', 'Soap it, remake the joint'),
    fault('find', 'It bubbles', 'That cap, adapter or joint', 'Mend it, note it: the retest begins anew'),
    fault('tie', 'One poppet shows nothing', 'The tanks are not tied', 'Find the closed line'),
  ],
};

const k = (rows: readonly (readonly [number, number])[]): Value => ({
  rows: rows.map(([upTo, value]) => ({ when: { attribute: 'tank.nozzles', upTo: of(upTo, '1') }, value: of(value, '1') })),
});
const balance = k([[6, 760.49], [12, 792.196], [18, 824.023], [24, 855.974], [1e6, 888.047]]); // prettier-ignore
const assist = k([[6, 500.887], [12, 531.614], [18, 562.455], [24, 593.412], [1e6, 624.483]]); // prettier-ignore

const two = (id: string, title: string, note: string, constant: Value, source: Limit['source'], suits: string): RuleSet => ({
  id,
  title,
  edition: '1',
  note,
  suits: is('tank.recovery', suits),
  order: 'free',
  skip: [],
  requires: [
    needs(
      'ullage',
      'Ullage is too small: 1000 US gal or a quarter, whichever is less',
      { attribute: 'tanks.ullage' },
      { formula: 'lesser', of: { a: of(1000, gallon), b: { formula: 'share', of: { of: { attribute: 'tanks.capacity' }, share: of(25, '%') } } } },
      carb,
    ),
    { ...needs('ullage-most', 'More than 25 000 US gal of ullage together', allUllage, of(25_000, gallon), carb), op: '<=' },
    ...waits,
  ],
  parameters: {
    assemblyLow: figure(h2o(2)),
    assemblyHigh: figure(h2o(2.1)),
    minute: minutes(1),
    startLow: figure(h2o(2), carb),
    startHigh: figure(h2o(2.02)),
    fillHigh: figure(h2o(2.2)),
    settle: seconds(60),
    ...nitrogen,
    ...refit,
    ...soapTime,
    hold: minutes(5, carb),
  },
  limits: [
    limit(`${id}.assembly`, 'assembly', 'end', '>=', h2o(1.75)),
    limit(`${id}.end`, 'pressure', 'end', '>=', { formula: 'vapourEnd', of: { k: constant, ullage: { attribute: 'tanks.ullage' } } }, source),
  ],
  decision: { kind: 'simple' },
});

export const tankVapour2: Procedure = {
  id: 'tank.vapour-2',
  edition: '2',
  language: 2,
  title: 'Vapour system, 2 inH2O',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning: `Nitrogen asphyxiates; fuel vapour explodes. ${defers}`,
  sources: [carb, cccccc, commonPractice],
  roles: { tank: { classes: ['storage-tank'] } },
  lists: vapourTanks,
  channels: vapourChannels,
  states: supplyStates('Nitrogen'),
  bring: ['Nitrogen, 1 to 5 ft³/min', 'Manometer to 0.01 inH2O'],
  stages: [
    look('before', 'tank', 'Before', 'precondition', [item('pumps-off', 'Pumps off, nobody fuelling')]),
    proveAssembly(),
    test(
      'pressure',
      'tank',
      'Hold at two inches',
      [
        nitrogenSet,
        { ...reach('nitrogen', 'tank', 'startHigh', 'fillHigh', 'Nitrogen a little over 2 inH2O'), fills, ...flows },
        act('nitrogen-shut', 'Nitrogen shut off', shutOff),
        wait('settle', 'settle', 'Let it settle'),
        { ...reach('trim', 'tank', 'startLow', 'startHigh', 'Trim it to 2.00'), ...watched },
      ],
      { kind: 'decay', channels: ['tank'], hold: 'hold', start: { low: 'startLow', high: 'startHigh' }, top: 'fillHigh', gas: vapourGas },
      { ...eachTank, byNight: { latitude: 'tank.latitude', longitude: 'tank.longitude' } },
    ),
    searchTank,
    wet,
  ],
  ruleSets: [
    two('balance', 'Balance system', 'What must be left follows from the ullage: 2·e^(−k/V) after five minutes.', balance, carb, 'balance'),
    two('assist', 'Vacuum assist', 'What must be left follows from the ullage: 2·e^(−k/V) after five minutes.', assist, carb, 'assist'),
    two('federal', 'Federal', 'The federal equation, whatever the number of nozzles.', of(500.887, '1'), cccccc, 'federal'),
  ],
  cautions: [
    caution('assembly', 'Nitrogen asphyxiates: stay out of pits and low places.'),
    caution('pressure', 'Never over 2.2 inH2O: vent valves open.'),
    caution('let-down', 'No spark, no engine near while it is let down.'),
  ],
  faults: [
    fault('pressure', 'Filling takes twice as long as it should', 'A large leak', 'Listen at caps and adapters'),
    fault('pressure', 'Falls evenly', 'Cap, adapter, vent valve', 'Soap caps and adapters'),
    fault('find', 'It bubbles', 'That cap, adapter or joint', 'Mend it, note it: the retest begins anew'),
    fault('pressure', 'Rises', 'Vapour warms', 'One kelvin is 1.4 inH2O: wait for even weather'),
    fault('assembly', 'The assembly sinks', 'Hose or valve of the assembly', 'Soap it, remake the joint'),
  ],
};

/** A capacity as the rule prints it in gallons and in litres: 5678 L are a hair less than 1500 gal, and are in their band. */
const printed = (gallons: number, litres: number): readonly Quantity[] => [of(gallons, gallon), of(litres, 'L')];
const [large, middle, small] = [printed(2500, 9464), printed(1500, 5678), printed(1000, 3785)] as const;

/** Permitted change by capacity, inH2O: the smallest tanks may lose most. */
const byCapacity = (rows: readonly [number, number, number, number]): Value => ({
  rows: [
    { when: { attribute: 'tank.capacity', from: large }, value: h2o(rows[0]) },
    { when: { attribute: 'tank.capacity', from: middle }, value: h2o(rows[1]) },
    { when: { attribute: 'tank.capacity', from: small }, value: h2o(rows[2]) },
    { when: { attribute: 'tank.capacity', below: small }, value: h2o(rows[3]) },
  ],
});

const cargoRules = (id: string, title: string, note: string, rows: readonly [number, number, number, number], skip: readonly string[]): RuleSet => ({
  id,
  title,
  edition: '1',
  note,
  order: 'free',
  skip,
  parameters: {
    fillHigh: figure(h2o(18.6)),
    startLow: figure(h2o(18), cargoRule),
    startHigh: figure(h2o(18.2)),
    stillHeld: figure(h2o(13)),
    headerLow: figure(h2o(-0.5)),
    headerHigh: figure(h2o(0.5)),
    suctionLow: figure(h2o(-6.2)),
    suctionHigh: figure(h2o(-6), cargoRule),
    settle: minutes(2),
    ...soapTime,
    hold: minutes(5, cargoRule),
  },
  limits: [
    limit(`${id}.pressure`, 'pressure', 'loss', '<=', byCapacity(rows), cargoRule),
    ...(skip.includes('suction')
      ? []
      : [limit(`${id}.suction`, 'suction', 'change', '<=', byCapacity(rows), cargoRule), limit(`${id}.header`, 'header', 'pressure', '<=', h2o(5), cargoRule)]),
  ],
  decision: { kind: 'simple' },
});

export const tankCargo: Procedure = {
  id: 'tank.cargo',
  edition: '2',
  language: 2,
  title: 'Cargo tank, 18 inH2O',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning: `Fuel vapour explodes; a tank under suction folds. ${defers}`,
  sources: [cargoRule, commonPractice],
  roles: { tank: { classes: ['cargo-tank'] } },
  channels: { tank: { role: 'tank', unit: inH2O, title: 'Manometer' }, header: { role: 'tank', unit: inH2O, title: 'Vapour header' } },
  states: supplyStates('Supply'),
  bring: ['Air or nitrogen with its own relief valve', 'Manometer', 'Caps'],
  stages: [
    look('before', 'tank', 'Before', 'precondition', [
      item('purged', 'Emptied and purged, earthed', { automatic: true }),
      item('caps', 'Hatches, valves and caps shut'),
      item('shade', 'Out of the sun'),
    ]),
    test(
      'pressure',
      'tank',
      'Under pressure',
      [
        { ...reach('fill', 'tank', 'startLow', 'fillHigh', 'Fill to 18 inH2O'), ...flows },
        act('supply-off', 'Supply shut off', shutOff),
        wait('settle', 'settle', 'Let it settle'),
        { ...reach('trim', 'tank', 'startLow', 'startHigh', 'Trim it to 18.0'), ...watched },
      ],
      {
        kind: 'decay',
        channels: ['tank'],
        hold: 'hold',
        start: { low: 'startLow', high: 'startHigh' },
        top: 'fillHigh',
        gas: { volume: 'tank.shell' },
      },
    ),
    search(
      'find',
      'tank',
      ['pressure'],
      'tank',
      [act('supply-again', 'Air on again, no higher than it was', flows)],
      [
        ['hatch', 'Hatches and their gaskets'],
        ['vent', 'Vents'],
        ['fill-cap', 'Caps'],
        ['outlet', 'Valves and outlets'],
        ['seams', 'Seams and fittings'],
      ],
    ),
    test(
      'header',
      'tank',
      'Inside vapour valve',
      [
        // What is under suction, or let down, presses on no valve.
        reach('header-tank', 'tank', 'stillHeld', 'fillHigh', 'The tank still under its pressure'),
        act('valve-shut', 'Vapour valve shut'),
        reach('header-down', 'header', 'headerLow', 'headerHigh', 'Header let down to nothing'),
        wait('header-wait', 'hold', 'Five minutes'),
      ],
      {
        kind: 'eventPressure',
        channels: ['header'],
        mark: 'header-read',
        text: 'The header after five minutes',
      },
    ),
    test(
      'suction',
      'tank',
      'Under suction',
      [
        { ...reach('draw', 'tank', 'suctionLow', 'suctionHigh', 'Draw it down to 6 inH2O below'), ...flows },
        act('suction-off', 'Suction shut off', shutOff),
        wait('suction-settle', 'settle', 'Let it settle'),
        { ...reach('suction-trim', 'tank', 'suctionLow', 'suctionHigh', 'Trim it'), ...watched },
      ],
      {
        kind: 'decay',
        channels: ['tank'],
        hold: 'hold',
        start: { low: 'suctionLow', high: 'suctionHigh' },
      },
    ),
    look('let-down', 'tank', 'Put it back as it was', 'aftercare', [
      item('let-down-slow', 'Let down slowly to nothing'),
      item('valves-back', 'Relief valves working again'),
      item('mark', 'Marked with month and year'),
    ]),
  ],
  ruleSets: [
    cargoRules('annual', 'Yearly', 'Pressure, inside vapour valve and suction, by capacity: 1.0 to 2.5 inH2O in five minutes.', [1, 1.5, 2, 2.5], []),
    cargoRules('any-time', 'At any time', 'The pressure part alone, by capacity: 2.5 to 4.0 inH2O in five minutes.', [2.5, 3, 3.5, 4], ['suction', 'header']),
  ],
  cautions: [
    caution('pressure', 'Never over 18.6 inH2O.'),
    caution('suction', 'A tank drawn too far folds: stop at 6 inH2O below.'),
    caution('let-down', 'Let it down slowly, no spark near.'),
  ],
  faults: [
    fault('pressure', 'Falls evenly', 'Hatch gasket, vent or cap', 'Soap hatches and vents'),
    fault('find', 'It bubbles', 'That gasket, vent or cap', 'Mend it, note it: the retest begins anew'),
    fault('header', 'It rises', 'The inside vapour valve passes', 'Clean or change its seat'),
    fault('suction', 'The suction dies away', 'Vacuum vent', 'Clean its seat'),
  ],
};
