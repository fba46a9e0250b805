import type { Limit, Procedure, RuleSet, Stage, Value } from '../language';
import { commonPractice, fromMemory } from '../source';
import { WORKING_READ } from '../method';
import { act, caution, defers, fault, figure, is, item, limit, look, minutes, of, reach, seconds, test, wait } from './parts';

const cfr = fromMemory('49 CFR 180.205', '(g), (i)');
const permits = fromMemory('Special permits for composite cylinders; CGA C-6.2');
const cga = fromMemory('CGA C-1');
const isoDirect = fromMemory('ISO 6406:2005; EN 1968', 'annex on volumetric expansion');
const iso18119 = fromMemory('ISO 18119:2018');
const adr = fromMemory('ADR 4.1.4.1, P200; 6.2.1.6');

const testPressure = { attribute: 'cylinder.testPressure' } as const;
const workingPressure = { attribute: 'cylinder.workingPressure' } as const;
const share = (of_: Value, percent: number): Value => ({ formula: 'share', of: { of: of_, share: of(percent, '%') } });
const raised: Value = { formula: 'lesser', of: { a: share(testPressure, 110), b: { formula: 'sum', of: { a: testPressure, b: of(100, '[psi]') } } } };

const composite = is('cylinder.material', 'composite');

const before = look('before', 'cylinder', 'Before', 'look', [
  item('emptied', 'Emptied, nothing left under pressure', { automatic: true }),
  item('valve-out', 'Valve out'),
  item('marking', 'Test pressure read from the marking, and it is the one in the log', { automatic: true }),
  item('threads', 'Threads sound', { condemns: true }),
  item('inside', 'Looked at inside: clean, no pitting, no crack', { condemns: true, watch: true }),
]);
const aftercare = look('aftercare', 'cylinder', 'Dry, close, mark', 'aftercare', [
  item('burette-shut', 'Burette shut, scale drained: before anything is opened'),
  item('drained', 'Then the cylinder, its wall warmed with water of about 55 °C'),
  item('dried-longer', 'A composite wall holds the damp: dried for longer, with warm air', { when: composite, for: 'dryLonger' }),
  item('dry', 'Blown dry, and seen to be dry with a lamp: water corrodes threads and freezes regulators'),
  item('closed', 'No sealant in the threads, new O-ring, torque as the maker says'),
  item('mark', 'Date mark year and month by the rule set; composites labelled, never stamped into the wall'),
]);

const expansionParameters = (hold: number): RuleSet['parameters'] => ({
  rigLow: figure(share(testPressure, 80)),
  rigHigh: figure(share(testPressure, 90), cfr),
  rigHold: minutes(1),
  testLow: figure(testPressure, cfr),
  testHigh: figure(share(testPressure, 103)),
  repeatLow: figure(raised, cfr),
  repeatHigh: figure(share(raised, 103)),
  hold: seconds(hold, cfr),
  settle: seconds(20),
  dryLonger: minutes(5),
});

const jacketParameters = (hold: number): RuleSet['parameters'] => ({
  ...expansionParameters(hold),
  calibrateLow: figure(share(testPressure, 99), cfr),
  calibrateHigh: figure(share(testPressure, 101), cfr),
  certificate: figure({ attribute: 'cylinder.certificateExpansion' }, cfr),
});

/** Read on the way up too, where the wall of a composite or the maker's figures are looked at closely (common practice). */
const working: RuleSet['parameters'] = { workingLow: figure(share(workingPressure, 97)), workingHigh: figure(share(workingPressure, 103)) };

const rigProof: Stage = test(
  'rig-proof',
  'cylinder',
  'Prove the rig alone',
  [
    act('rig-closed', 'Rig closed off, no cylinder on'),
    reach('rig-up', 'pressure', 'rigLow', 'rigHigh', 'Raise it, to no more than nine tenths of the test pressure'),
    wait('rig-settle', 'settle', 'Let it stand'),
  ],
  {
    kind: 'decay',
    channels: ['pressure'],
    hold: 'rigHold',
    start: { low: 'rigLow', high: 'rigHigh' },
  },
  { phase: 'rig', proves: true },
);

/** A leak is seen before the gauge tells of it. */
const prompts: RuleSet['prompts'] = [
  { stage: 'expand', every: of(10, 's'), text: 'Look along cylinder, fitting and line: no drop anywhere', source: commonPractice },
];

/** A wall that has grown thin stretches further and comes back all the same: the share that stays does not show it. It holds wherever it is marked. */
const marked = (id: string, source: Limit['source']): Limit =>
  limit(`${id}.elastic`, 'expand', 'elastic', '<=', { attribute: 'cylinder.rejectionElastic' }, source, {
    condemns: true,
    when: is('cylinder.rejectionMarked', true),
  });
const rigLimit = (id: string): Limit => limit(`${id}.rig`, 'rig-proof', 'loss', '<=', share(testPressure, 1));

export const cylWaterJacket: Procedure = {
  id: 'cyl.water-jacket',
  edition: '2',
  language: 2,
  title: 'Cylinder, water-jacket expansion',
  verdictWords: { pass: 'passes', fail: 'condemned' },
  claims: 'within figures',
  warning: `Test pressure can kill: nobody beside the jacket, remote reading only. ${defers}`,
  sources: [cfr, cga, permits, commonPractice],
  roles: { cylinder: { classes: ['cylinder'] } },
  channels: {
    pressure: { role: 'cylinder', unit: 'bar', title: 'Test gauge' },
    water: { role: 'cylinder', unit: 'mL', title: 'Burette', unless: 'scale' },
    scale: { role: 'cylinder', unit: 'g', title: 'Balance under the overflow', optional: true },
    temperature: { role: 'cylinder', unit: 'Cel', title: 'Water temperature', with: 'scale' },
  },
  bring: ['Calibrated cylinder with its certificate', 'Jacket, pump, burette or scale', 'Lamp, O-rings, torque wrench'],
  stages: [
    before,
    rigProof,
    test(
      'calibrate',
      'cylinder',
      'Calibrated cylinder',
      [act('calibrated-in', 'Calibrated cylinder in the jacket, topped up; burette and scale zeroed, each')],
      {
        kind: 'expansion',
        rig: 'jacket',
        pressure: 'pressure',
        water: 'water',
        scale: 'scale',
        temperature: 'temperature',
        test: { low: 'calibrateLow', high: 'calibrateHigh' },
        hold: 'hold',
        certificate: 'certificate',
      },
      { phase: 'rig', proves: true },
    ),
    test(
      'expand',
      'cylinder',
      'Expand the cylinder',
      [act('filled', 'Cylinder filled, sealed, in the jacket; jacket topped up; burette and scale zeroed, each, for this cylinder')],
      {
        kind: 'expansion',
        rig: 'jacket',
        pressure: 'pressure',
        water: 'water',
        scale: 'scale',
        temperature: 'temperature',
        working: { low: 'workingLow', high: 'workingHigh' },
        test: { low: 'testLow', high: 'testHigh', repeatLow: 'repeatLow', repeatHigh: 'repeatHigh' },
        hold: 'hold',
      },
      { attempts: 2 },
    ),
    aftercare,
  ],
  ruleSets: [
    {
      id: 'us-metal',
      title: 'Ten per cent',
      edition: '1',
      note: 'Steel and aluminium by the US rule: no more than 10 % of the total stays; where a rejection elastic expansion is marked, it is held too.',
      suits: is('cylinder.material', 'steel', 'aluminium'),
      order: 'free',
      skip: [WORKING_READ],
      prompts,
      parameters: jacketParameters(30),
      limits: [
        rigLimit('us-metal'),
        limit('us-metal.calibrated', 'calibrate', 'deviation', '<=', of(1, '%'), cfr),
        limit('us-metal.calibrated-zero', 'calibrate', 'permanent', '<=', of(0.1, 'mL'), cfr),
        limit('us-metal.percent', 'expand', 'percent', '<=', of(10, '%'), cfr, { condemns: true }),
        marked('us-metal', cfr),
      ],
      decision: { kind: 'simple' },
    },
    {
      id: 'composite',
      title: 'Five per cent and the elastic limit',
      edition: '1',
      note: 'Composites by special permit: no more than 5 % stays, and elastic expansion no more than the marked rejection figure. Always read the permit.',
      suits: composite,
      order: 'free',
      skip: [],
      prompts,
      parameters: { ...jacketParameters(60), ...working },
      limits: [
        rigLimit('composite'),
        limit('composite.calibrated', 'calibrate', 'deviation', '<=', of(1, '%'), cfr),
        limit('composite.calibrated-zero', 'calibrate', 'permanent', '<=', of(0.1, 'mL'), cfr),
        limit('composite.percent', 'expand', 'percent', '<=', of(5, '%'), permits, { condemns: true }),
        limit('composite.elastic', 'expand', 'elastic', '<=', { attribute: 'cylinder.rejectionElastic' }, permits, { condemns: true }),
      ],
      decision: { kind: 'simple' },
    },
    {
      id: 'maker',
      title: 'Ten per cent and the maker’s most expansion',
      edition: '1',
      note: 'As the ten per cent, with the maker’s largest total expansion.',
      order: 'free',
      skip: [],
      prompts,
      parameters: { ...jacketParameters(30), ...working },
      limits: [
        rigLimit('maker'),
        limit('maker.calibrated', 'calibrate', 'deviation', '<=', of(1, '%'), cfr),
        limit('maker.calibrated-zero', 'calibrate', 'permanent', '<=', of(0.1, 'mL'), cfr),
        marked('maker', cfr),
        limit('maker.percent', 'expand', 'percent', '<=', of(10, '%'), cfr, { condemns: true }),
        limit('maker.total', 'expand', 'total', '<=', { attribute: 'cylinder.mostExpansion' }, commonPractice, { condemns: true }),
      ],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [
    caution('rig-proof', 'Stand clear: a fitting that lets go at this pressure is a bullet.'),
    caution('expand', 'Stand clear, and never over the window: the cylinder is at five thirds of its working pressure.'),
    caution('aftercare', 'Hot water and compressed air: goggles.'),
  ],
  faults: [
    fault('rig-proof', 'The rig sinks', 'Fitting or release valve', 'Remake the fitting, prove it again'),
    fault('calibrate', 'Off its certificate', 'Air in the jacket, scale or gauge', 'Bleed the jacket, zero again; then the scale'),
    fault('expand', 'Reads too large', 'Water warms in the jacket, or air in it', 'Equalise to a tenth of a kelvin, zero again'),
    fault('expand', 'Pressure sinks in the hold', 'The equipment leaks, and not the cylinder', 'Mend it; repeat once at the raised pressure'),
  ],
};

export const cylDirectExpansion: Procedure = {
  id: 'cyl.direct-expansion',
  edition: '2',
  language: 2,
  title: 'Cylinder, direct expansion',
  verdictWords: { pass: 'passes', fail: 'condemned' },
  claims: 'within figures',
  warning: `Test pressure can kill: nobody beside the cylinder. ${defers}`,
  sources: [isoDirect, iso18119, commonPractice],
  roles: { cylinder: { classes: ['cylinder'] } },
  channels: {
    pressure: { role: 'cylinder', unit: 'bar', title: 'Test gauge' },
    water: { role: 'cylinder', unit: 'mL', title: 'Water forced in' },
    temperature: { role: 'cylinder', unit: 'Cel', title: 'Water temperature' },
  },
  bring: ['Pump with burette or scale', 'Thermometer', 'Lamp, O-rings, torque wrench'],
  stages: [
    before,
    rigProof,
    test(
      'expand',
      'cylinder',
      'Force water in and let it out',
      [act('bled', 'Every bubble of air bled: each one hides what stays')],
      {
        kind: 'expansion',
        rig: 'direct',
        pressure: 'pressure',
        water: 'water',
        temperature: 'temperature',
        mass: 'mass',
        test: { low: 'testLow', high: 'testHigh', repeatLow: 'repeatLow', repeatHigh: 'repeatHigh' },
        hold: 'hold',
      },
      { attempts: 2 },
    ),
    aftercare,
  ],
  ruleSets: (
    [
      ['steel', 'Five per cent', 5, 'Where the design standard names none: no more than 5 % stays, water’s own compression taken off.'],
      ['ten', 'Ten per cent', 10, 'Design standards that allow it: no more than 10 % stays, water’s own compression taken off.'],
    ] as const
  ).map(([id, title, percent, note]): RuleSet => ({
    id,
    title,
    edition: '1',
    note,
    order: 'free',
    skip: [],
    prompts,
    parameters: { ...expansionParameters(30), mass: figure({ attribute: 'cylinder.waterMass' }, isoDirect) },
    limits: [rigLimit(id), limit(`${id}.percent`, 'expand', 'percent', '<=', of(percent, '%'), isoDirect, { condemns: true }), marked(id, commonPractice)],
    decision: { kind: 'simple' },
  })),
  cautions: [
    caution('rig-proof', 'Stand clear of the pump line.'),
    caution('expand', 'Stand clear, and never over the window.'),
    caution('aftercare', 'Hot water and compressed air: goggles.'),
  ],
  faults: [
    fault('rig-proof', 'The rig sinks', 'Fitting or release valve', 'Remake the fitting, prove it again'),
    fault('expand', 'Far more water than was foreseen', 'Air inside', 'Bleed, zero, force in again'),
    fault('expand', 'More stays than came out', 'The burette was not zeroed before this cylinder', 'Zero, and repeat at the raised pressure'),
  ],
};

const visual = (id: string, title: string, note: string, source: RuleSet['limits'][number]['source'], suits: string): RuleSet => ({
  id,
  title,
  edition: '1',
  note: `${note} Source: ${source.title}.`,
  suits: is('cylinder.use', suits),
  order: 'free',
  skip: [],
  parameters: {},
  limits: [],
  decision: { kind: 'simple' },
});

export const cylVisual: Procedure = {
  id: 'cyl.visual',
  edition: '2',
  language: 2,
  title: 'Cylinder, looked at inside and out',
  verdictWords: { pass: 'in order', fail: 'rejected' },
  claims: 'in order',
  warning: defers,
  sources: [cfr, iso18119, adr, permits, commonPractice],
  roles: { cylinder: { classes: ['cylinder'] } },
  channels: {},
  bring: ['Lamp and mirror', 'Thread gauge', 'Depth gauge'],
  stages: [
    look('age', 'cylinder', 'Age and marking', 'look', [
      item('within-life', 'Within its life as marked', { automatic: true, condemns: true }),
      item('marks-read', 'Marks can be read, and are the ones in the log', { automatic: true }),
      item('empty', 'Emptied, valve out', { automatic: true }),
    ]),
    look('outside', 'cylinder', 'Outside', 'test', [
      item('dents', 'No dent, bulge or gouge past the limit of its kind', { condemns: true, watch: true }),
      item('heat', 'No sign of fire or heat', { condemns: true }),
      item('corrosion', 'No corrosion past the limit of its kind', { condemns: true, watch: true }),
      item('fibre', 'Composite: no cut, loose or scorched fibre past the limit of its kind', { condemns: true, watch: true, when: composite }),
    ]),
    look('inside', 'cylinder', 'Inside and neck', 'test', [
      item('clean', 'Clean and dry'),
      item('walls', 'No pitting, line or crack', { condemns: true, watch: true }),
      item('threads', 'Threads whole, by the gauge', { condemns: true }),
    ]),
    look('aftercare', 'cylinder', 'Close it', 'aftercare', [
      item('closed', 'Valve in, new O-ring, torque as the maker says'),
      item('label', 'Label with year and month, and the next date'),
    ]),
  ],
  ruleSets: [
    visual('us-metal', 'US metal, 5 years', 'Looked at with every requalification: 3AA and 3AL 5 years, 3HT 3 years.', cfr, 'US metal'),
    visual('un-metal', 'UN metal, air, 10 years', 'Looked at with every periodic inspection.', adr, 'UN metal'),
    visual('diving', 'Diving, 2.5 years', 'Looked at half-way between hydraulic tests.', iso18119, 'diving'),
    visual('composite', 'Composite, 5 years', 'Looked at with every requalification; life as marked.', permits, 'composite'),
  ],
  cautions: [caution('age', 'A cylinder under pressure is never unscrewed.'), caution('inside', 'No face over the neck: it may hold another gas.')],
  faults: [
    fault('outside', 'Over the limit of its kind', 'Damage', 'Condemn it so that it cannot be filled'),
    fault('inside', 'Water or rust', 'Filled wet', 'Clean, dry, look again; find the compressor’s fault'),
  ],
};
