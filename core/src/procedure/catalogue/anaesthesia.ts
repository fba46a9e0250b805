import type { CheckItem, Limit, Procedure, RuleSet, Stage } from '../language';
import { commonPractice, fromMemory } from '../source';
import { act, band, caution, defers, fault, figure, is, item, limit, look, of, reach, search, seconds, soapTime, test, wait } from './parts';
import { circuitStates, flows, shutOff } from './setUps';

const fda = fromMemory('FDA 1993 Anesthesia Apparatus Checkout Recommendations');
const iso = fromMemory('ISO 80601-2-13', 'breathing system leakage');

const warning = `Never with a patient connected. Anaesthetic vapour is a poison: vaporisers off, scavenging on. ${defers}`;
const cm = (value: number) => of(value, 'cm[H2O]');
const flow = (value: number) => of(value, 'mL/min');

const patient = { mass: { attribute: 'circuit.patientMass' } } as const;
/** Both of the trade’s rules, where somebody has said how heavy the next patient is. */
const bagSize: CheckItem = item('bag-size', 'The bag on it is of a size for this patient', {
  says: [
    { words: 'by mass', value: { formula: 'bagByMass', of: patient } },
    { words: 'by the breath from', value: { formula: 'bagByBreathLow', of: patient } },
    { words: 'to', value: { formula: 'bagByBreathHigh', of: patient } },
  ],
});

const noPatient: readonly CheckItem[] = [
  item('no-patient', 'No patient is connected', { automatic: true }),
  item('vaporiser-off', 'Vaporiser off', { automatic: true }),
];

/** What is done after every one of them. */
const released = (more: readonly CheckItem[] = [], plug = 'Patient end opened: plug or finger off'): Stage =>
  look('aftercare', 'circuit', 'Leave it safe', 'aftercare', [
    item('valve-open', 'Flow off, relief valve fully open', { makes: { supply: 'off', relief: 'open' } }),
    item('at-zero', 'Pressure at zero', { shown: { channel: 'pressure', high: 'atZero', after: 'bandLow' } }),
    item('plug-out', plug),
    ...more,
  ]);

const channels: Procedure['channels'] = {
  pressure: { role: 'circuit', unit: 'cm[H2O]', title: 'Circuit pressure' },
  flow: { role: 'circuit', unit: 'mL/min', title: 'Fresh gas flow' },
};

/** A second vaporiser leaks as well as the first: each is looked at for itself. */
const eachVaporiser = { each: { list: 'vaporisers' } } as const;

export const anaesMachine: Procedure = {
  id: 'anaes.machine',
  edition: '2',
  language: 2,
  title: 'Anaesthetic machine, supply side',
  verdictWords: { pass: 'in order', fail: 'faulty' },
  claims: 'in order',
  warning,
  sources: [fda, commonPractice],
  roles: { machine: { classes: ['anaesthetic-machine'] } },
  lists: { vaporisers: { part: 'vaporiser', title: 'Vaporisers', one: 'Vaporiser', most: 8, count: ['machine.vaporisers'] } },
  channels: {},
  bring: ['A suction bulb', 'The log'],
  stages: [
    look('gather', 'machine', 'Make safe', 'gather', [...noPatient, item('supplies', 'Pipeline and cylinders: their state read, cylinders shut again')]),
    look(
      'dials',
      'machine',
      'Dial and filler',
      'look',
      [item('dial', 'Before any gas is on: the dial turns freely and goes back to off'), item('filled', 'Filled, filler cap tight')],
      eachVaporiser,
    ),
    look(
      'outlet',
      'machine',
      'Block the outlet',
      'test',
      [item('bobbin-drops', 'Gas on at about 4 L/min, common outlet blocked: the bobbin drops'), item('release-heard', 'The release is heard')],
      { when: is('machine.outletCheckValve', false) },
    ),
    look(
      'bulb',
      'machine',
      'Suction bulb',
      'test',
      [item('bulb-off', 'Bulb squeezed flat on the outlet, vaporisers off: it stays flat ten seconds', { for: 'flat' })],
      { when: is('machine.outletCheckValve', true) },
    ),
    look(
      'bulb-on',
      'machine',
      'Suction bulb, vaporiser on',
      'test',
      [item('bulb-stays', 'This vaporiser on, every other off: the bulb stays flat ten seconds', { for: 'flat' })],
      {
        when: is('machine.outletCheckValve', true),
        ...eachVaporiser,
      },
    ),
    look('aftercare', 'machine', 'Leave it safe', 'aftercare', [item('gas-off', 'Gas off, bulb off'), item('vaporisers-off', 'Every vaporiser off')]),
  ],
  ruleSets: [
    {
      id: 'general',
      title: 'Outlet or bulb',
      edition: '1',
      note: 'The outlet is blocked; where a check valve blinds that, a suction bulb must stay collapsed ten seconds, again with each vaporiser on.',
      order: 'free',
      skip: [],
      parameters: { flat: seconds(10) },
      limits: [],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [
    caution('outlet', 'Block the outlet for a moment only: the pressure behind it rises.'),
    caution('bulb', 'Vaporisers on: scavenge, and breathe elsewhere.'),
  ],
  faults: [
    fault('outlet', 'The bobbin does not drop', 'Gas escapes behind the flow meters', 'Vaporiser seat and filler first'),
    fault('bulb', 'The bulb fills', 'A leak between flow meters and outlet', 'Flow meters, pipes and the outlet'),
    fault('bulb-on', 'The bulb fills', 'The seat of the vaporiser that was on', 'Reseat it, squeeze again'),
  ],
};

/** What a machine says of itself. It is no manual test: that one stays due at its own interval. */
export const anaesAutomatic: Procedure = {
  id: 'anaes.automatic',
  edition: '1',
  language: 2,
  title: 'The machine’s own leak figure',
  verdictWords: { pass: 'within its figure', fail: 'over its figure' },
  claims: 'within figures',
  warning,
  sources: [iso, commonPractice],
  roles: { circuit: { classes: ['breathing-circuit'] } },
  channels: { flow: { role: 'circuit', unit: 'mL/min', title: 'Leak, as the machine shows it' } },
  bring: ['The machine with its circuit', 'The log'],
  stages: [
    look('gather', 'circuit', 'Make safe', 'gather', noPatient),
    test('automatic', 'circuit', 'Its own test', [act('auto-run', 'Y-piece on its plug, the machine’s own test run to its end')], {
      kind: 'eventPressure',
      channels: ['flow'],
      mark: 'leak-shown',
      text: 'Read the leak that it shows',
    }),
    look('aftercare', 'circuit', 'Leave it safe', 'aftercare', [item('auto-left', 'Plug out, the machine as the next case needs it')]),
  ],
  ruleSets: [
    {
      id: 'ml-150',
      title: '150 mL/min by the machine',
      edition: '1',
      note: 'The figure of the machine’s own test, read off its screen: at most 150 mL/min. It takes nothing off what the manual test owes.',
      order: 'free',
      skip: [],
      parameters: {},
      limits: [limit('ml-150.leak', 'automatic', 'flow', '<=', flow(150), iso)],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [caution('automatic', 'The machine pressurises the circuit by itself: hands off.')],
  faults: [fault('automatic', 'Over its figure', 'Absorber seal, hose, bag', 'The manual test, part by part')],
};

/** What keeps a circuit from filling that is no leak of it. */
const setUp: readonly CheckItem[] = [
  item('outlet-chosen', 'The outlet and bag selectors stand on this circuit'),
  item('closed-off', 'Relief valve shut as the rule says, patient end plugged, no hose or cap off, absorber seated'),
];

const proof = test(
  'rig-proof',
  'circuit',
  'Is the gauge at zero?',
  [act('open-all', 'Everything open to the air', { makes: { relief: 'open' } })],
  {
    kind: 'eventPressure',
    channels: ['pressure'],
    mark: 'zero-read',
    text: 'The gauge with nothing on it',
  },
  { phase: 'rig' },
);

const valveShut = { makes: { relief: 'shut' } } as const;
const closed = { needs: { relief: 'shut' } } as const;

const fill = [
  act('flow-off', 'Flow off', shutOff),
  { ...reach('fill', 'pressure', 'fillLow', 'fillHigh', 'Fill to 30 cmH2O: by the flush, by the flow meter, or slowly by a concentrator'), ...closed },
];

/** What was never held can show nothing of its valves. */
const notHeld = { onFail: 'endRun' } as const;

const watch = test(
  'watch',
  'circuit',
  'Watch it stand',
  [...fill, { ...wait('watch-settle', 'settle', 'Let the bag stretch'), needs: { supply: 'off', relief: 'shut' } }],
  {
    kind: 'decay',
    channels: ['pressure'],
    hold: 'steady',
    start: { low: 'startLow', high: 'fillHigh' },
    gas: { volume: 'circuit.volume', flexible: true },
  },
  notHeld,
);
const makeUp = test(
  'make-up',
  'circuit',
  'Hold it still with a flow',
  [
    { ...reach('fill-again', 'pressure', 'fillLow', 'fillHigh', 'Fill to 30 cmH2O again'), ...closed },
    act('still', 'Open the flow until the needle stands still', { ...closed, ...flows }),
  ],
  {
    kind: 'makeUpFlow',
    pressure: 'pressure',
    flow: 'flow',
    band: { low: 'bandLow', high: 'bandHigh' },
    hold: 'steady',
    compliance: 'gives',
  },
  notHeld,
);
/** The flow decides where the needle fell: what a steady needle shows needs none. */
const makeUpThen: Stage = {
  ...makeUp,
  id: 'make-up-then',
  title: 'It falls: what flow holds it still?',
  steps: [
    { ...reach('fill-then', 'pressure', 'fillLow', 'fillHigh', 'Fill to 30 cmH2O again'), ...closed },
    act('still-then', 'Open the flow until the needle stands still', { ...closed, ...flows }),
  ],
  decides: 'watch',
};
const openSlowly = test(
  'open-valve',
  'circuit',
  'Open the relief valve slowly',
  [act('open-relief', 'Read the gauge while it still stands, then open the relief valve slowly', { makes: { relief: 'open' } })],
  {
    kind: 'check',
    items: [
      // It falls from where it stood: one that was let down before shows nothing of its valve.
      item('falls-to-zero', 'The pressure falls smoothly to zero', { shown: { channel: 'pressure', high: 'atZero', from: 'stillUp' } }),
      item('neck', 'Bag’s neck pulled open: no hidden hole. A bad bag is destroyed'),
    ],
  },
);

const zero = (id: string): readonly Limit[] => band(`${id}.zero`, 'rig-proof', 'pressure', cm(-1), cm(1));
const parameters: RuleSet['parameters'] = {
  fillLow: figure(cm(29)),
  fillHigh: figure(cm(32)),
  startLow: figure(cm(28)),
  bandLow: figure(cm(28)),
  bandHigh: figure(cm(32)),
  atZero: figure(cm(2)),
  stillUp: figure(cm(15)),
  ...soapTime,
  taut: seconds(10),
  settle: seconds(5),
  steady: seconds(10, fda),
  // A bag of 2 to 3 L at 30 cmH2O with its hoses: it gives way by no more than this.
  gives: figure(of(25, 'mL/cm[H2O]')),
};

const rules = (
  id: string,
  title: string,
  note: string,
  skip: readonly string[],
  limits: readonly Limit[],
  suits: string,
  more: Partial<RuleSet> = {},
): RuleSet => ({
  id,
  title,
  edition: '1',
  note,
  suits: is('circuit.patients', suits),
  order: 'free',
  skip,
  parameters,
  limits: [...zero(id), ...limits],
  decision: { kind: 'simple' },
  ...more,
});

const steady = (id: string): Limit => limit(`${id}.watch`, 'watch', 'loss', '<', cm(1), fda);

export const anaesCircle: Procedure = {
  id: 'anaes.circle',
  edition: '2',
  language: 2,
  title: 'Circle system, manual pressure test',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning,
  sources: [fda, iso, commonPractice],
  roles: { circuit: { classes: ['breathing-circuit'] } },
  channels,
  states: circuitStates,
  setUp,
  bring: ['A bag of the right size', 'A plug for the Y-piece', 'The log'],
  stages: [
    look('gather', 'circuit', 'Make safe', 'gather', noPatient),
    look('look', 'circuit', 'Set it up', 'look', [
      item('selector', 'Outlet selector to the circuit'),
      item('domes', 'Valve domes seated'),
      item('bag-side', 'Bag or ventilator: set to bag'),
      item('absorber', 'Absorbent about 70 % of its level, its colour good, the canister sealed'),
      bagSize,
      item('hoses', 'Bag of the right size, hoses without a crack'),
      item('y-piece', 'Y-piece looked at, then plugged or under a finger: a plug can hide a crack'),
      item('relief-shut', 'Relief valve shut; a calibrated one may be set at 30 cmH2O instead', valveShut),
    ]),
    proof,
    watch,
    makeUp,
    makeUpThen,
    look('flutter', 'circuit', 'Valves', 'test', [item('both-flutter', 'Breathed through: both valves flutter')]),
    search(
      'find',
      'circuit',
      ['watch', 'make-up', 'make-up-then'],
      'circuit',
      [act('fill-to-find', 'Filled again, no higher than before; vaporisers off', { makes: { relief: 'shut' } })],
      [
        ['bag', 'Bag, its neck pulled open'],
        ['absorber', 'Absorber and its seal'],
        ['hoses', 'Hoses, out'],
        ['hose-back', 'Hoses, back'],
        ['relief-valve', 'Relief valve'],
        ['inlet', 'Gas inlet'],
        ['patient-piece', 'Patient end'],
      ],
    ),
    openSlowly,
    released([item('selector-back', 'Selectors as the next case needs them')], 'Plug out of the Y-piece'),
  ],
  ruleSets: [
    rules('steady', 'Steady ten seconds', 'At 30 cmH2O it stands ten seconds.', ['make-up', 'make-up-then'], [steady('steady')], 'human, checkout'),
    rules(
      'watch-first',
      'Watched first, then 200 mL/min',
      'At 30 cmH2O it is watched: steady is a pass. Only where it falls is the flow asked that holds it still: at most 200 mL/min.',
      ['make-up'],
      [steady('watch-first'), limit('watch-first.flow', 'make-up-then', 'flow', '<=', flow(200))],
      'small animal, watched first',
    ),
    rules(
      'small-animal',
      '200 mL/min',
      'The make-up flow that holds 30 cmH2O still is at most 200 mL/min.',
      ['watch', 'make-up-then'],
      [limit('small-animal.flow', 'make-up', 'flow', '<=', flow(200))],
      'small animal',
    ),
    rules(
      'human',
      '150 mL/min at 3 kPa',
      'The make-up flow that holds 30 cmH2O still is at most 150 mL/min.',
      ['watch', 'make-up-then'],
      [limit('human.flow', 'make-up', 'flow', '<=', flow(150), iso)],
      'human',
    ),
    rules(
      'disposable',
      'Disposable circle',
      'Both valves flutter; released by the scavenge valve, never by lifting the thumb.',
      ['watch', 'make-up-then'],
      [limit('disposable.flow', 'make-up', 'flow', '<=', flow(200))],
      'disposable',
    ),
  ],
  cautions: [
    caution('watch', 'Flow off before it is filled: a closed circuit under flow bursts its bag.'),
    caution('make-up', 'Little by little: the pressure follows the flow.'),
    caution('open-valve', 'Open by the relief valve, and not at the patient end: that blows absorbent dust into the circuit.'),
  ],
  faults: [
    fault('watch', 'A hiss, and it does not fill', 'Outlet selector', 'Set it to the circuit'),
    fault('watch', 'The bag just empties', 'A valve is open', 'Shut the relief valve; look at the scavenge'),
    fault('watch', 'Falls evenly', 'Absorber seal, hose, bag', 'Reseat the absorber, pull the bag’s neck open'),
    fault('make-up', 'Needs more flow than allowed', 'Absorber seal, hose, bag', 'Occlude part by part from the bag on'),
    fault('make-up-then', 'Needs more flow than allowed', 'Absorber seal, hose, bag', 'Occlude part by part from the bag on'),
    fault('find', 'It bubbles', 'That part', 'Reseat or change it; a bag with a hole is destroyed, and the circuit tested again with another'),
    fault('flutter', 'A valve sticks', 'Moist disc', 'Dry or change the disc'),
    fault('open-valve', 'It never reaches zero', 'The relief valve is faulty', 'Repair before use'),
  ],
};

/** Most of these circuits have no gauge: the bag is filled, and the hand that fills it is what watches it. */
const feel = (full: string): Stage =>
  test(
    'feel',
    'circuit',
    'Fill it and feel it',
    [act('fill-by-hand', `Selectors on this circuit, valve shut, end occluded: fill it ${full}, then flow off`, { makes: { relief: 'shut', supply: 'off' } })],
    { kind: 'check', items: [item('bag-taut', 'Hands off: the bag stays taut for ten seconds', { feels: true, for: 'taut' })] },
    notHeld,
  );

/** What can leak of any of them. */
const searchCircuit = (seeks: readonly string[]): Stage =>
  search(
    'find',
    'circuit',
    seeks,
    'circuit',
    [act('fill-to-find', 'Filled again, no higher than before; vaporisers off', { makes: { relief: 'shut' } })],
    [
      ['bag', 'Bag, its neck pulled open'],
      ['hoses', 'Tube or hoses'],
      ['relief-valve', 'Valve'],
      ['inlet', 'Gas inlet'],
      ['patient-piece', 'Patient end'],
    ],
  );

interface OpenCircuit {
  readonly note: string;
  readonly faults: Procedure['faults'];
  readonly limits?: readonly Limit[];
  /** How full the bag is where it goes by feel. */
  readonly full: string;
  /** Stages of the gauge alone, and of the hand alone. */
  readonly gauged?: readonly Stage[];
  readonly felt?: readonly Stage[];
}

/** The circuits without an absorber differ in what else is looked at; the pressure test is one, with a gauge or by feel. */
function openCircuit(id: string, title: string, layout: string, looks: readonly CheckItem[], tests: readonly Stage[], extra: OpenCircuit): Procedure {
  const { gauged = [], felt = [] } = extra;
  const ids = (stages: readonly Stage[]): readonly string[] => stages.map((s) => s.id);
  return {
    id,
    edition: '2',
    language: 2,
    title,
    verdictWords: { pass: 'tight', fail: 'leaks' },
    claims: 'tight',
    warning,
    sources: [fda, commonPractice],
    roles: { circuit: { classes: ['breathing-circuit'] } },
    channels,
    states: circuitStates,
    setUp,
    bring: ['A plug or a clean finger', 'The log'],
    stages: [
      look('gather', 'circuit', 'Make safe', 'gather', noPatient),
      look('look', 'circuit', 'Look it over', 'look', [...looks, bagSize]),
      proof,
      watch,
      feel(extra.full),
      ...gauged,
      ...felt,
      searchCircuit(['watch', 'feel']),
      ...tests,
      released(),
    ],
    ruleSets: [
      {
        id: 'general',
        title,
        edition: '1',
        note: extra.note,
        suits: is('circuit.layout', layout),
        order: 'free',
        skip: ['feel', ...ids(felt)],
        parameters,
        limits: [...zero('general'), steady('general'), ...(extra.limits ?? [])],
        decision: { kind: 'simple' },
      },
      {
        id: 'by-feel',
        title: `${title}, by feel`,
        edition: '1',
        note: 'No gauge: the bag is filled and stays taut for ten seconds with the hands off it.',
        order: 'free',
        skip: ['rig-proof', 'watch', ...ids(gauged)],
        parameters: { taut: seconds(10), ...soapTime },
        limits: [],
        decision: { kind: 'simple' },
        byFeel: {
          finds: 'a hole, a hose off or a valve left open: what lets a taut bag go slack in ten seconds',
          misses: 'a leak that takes longer than that, nor at which pressure anything opens',
        },
      },
    ],
    cautions: [
      caution('watch', 'Flow off before it is filled: a closed circuit under flow bursts its bag.'),
      caution('feel', 'Fill it by short bursts: nothing shows its pressure.'),
    ],
    faults: [
      fault('watch', 'The bag goes slack', 'Hole in bag or hose, valve not shut', 'Under water or soap, bag first'),
      fault('feel', 'The bag goes slack', 'Hole in bag or hose, valve not shut', 'Under water or soap, bag first; a bag with a hole is destroyed'),
      fault('find', 'It bubbles', 'That part', 'Change it; a bag with a hole is destroyed, and the circuit tested again with another'),
      ...extra.faults,
    ],
  };
}

const opens = test('opens', 'circuit', 'Where its valve opens', [act('squeeze', 'Squeeze the bag hard')], {
  kind: 'eventPressure',
  channels: ['pressure'],
  mark: 'valve-opens',
  text: 'The valve has opened: let go of the bag. The highest counts',
  take: 'highest',
});
const relief = { attribute: 'circuit.reliefPressure' } as const;

export const anaesTPiece = openCircuit(
  'anaes.t-piece',
  'T-piece with valve (Mapleson F)',
  'mapleson-f',
  [item('tube', 'Tube, bag and connector without a crack'), item('valve-shut', 'Valve shut, patient end occluded', valveShut)],
  [],
  {
    full: 'below where its valve opens',
    gauged: [opens],
    felt: [look('gives', 'circuit', 'Its valve', 'test', [item('valve-gives', 'Squeezed hard, the valve opens: that is no leak')])],
    note: 'Occluded and filled the bag stays taut; squeezed hard, the valve opens at the maker’s pressure: that is no leak.',
    faults: [
      fault('opens', 'It opens too early', 'Valve worn or not the maker’s', 'Change the valve'),
      fault('gives', 'It does not open', 'The valve sticks', 'Change the valve'),
    ],
    limits: band('general.opens', 'opens', 'pressure', { formula: 'less', of: { a: relief, b: cm(5) } }, { formula: 'sum', of: { a: relief, b: cm(5) } }),
  },
);

export const anaesMaplesonA = openCircuit(
  'anaes.mapleson-a',
  'Mapleson A, plain or coaxial',
  'mapleson-a',
  [item('closed', 'Valve or scavenge closed', valveShut), item('inner-limb', 'Coaxial: the inner limb is whole and joined at both ends', { optional: true })],
  [
    look('inner', 'circuit', 'Inner limb', 'test', [
      item('inner-holds', 'Coaxial: inner limb occluded alone, the bag stays taut ten seconds', { optional: true, for: 'taut' }),
    ]),
  ],
  {
    full: 'until the bag is taut',
    note: 'Occluded and filled the bag stays taut. A hiss near 60 cmH2O is, on some, the relief that opens by itself: it is no leak.',
    faults: [fault('inner', 'The bag empties', 'The inner limb is loose', 'Change the circuit')],
  },
);

export const anaesCoaxialD = openCircuit(
  'anaes.coaxial-d',
  'Coaxial Mapleson D',
  'coaxial-d',
  [item('valve-shut', 'Valve shut, patient end occluded', valveShut), item('inner-end', 'The inner limb sits at the patient end')],
  [look('inner', 'circuit', 'Inner limb', 'test', [item('bobbin-drops', 'Flow 4 L/min, inner tube occluded alone: the bobbin drops')])],
  {
    full: 'until the bag is taut',
    note: 'The outer limb is filled and watched; then the inner tube alone is occluded, and the bobbin must drop.',
    faults: [fault('inner', 'The bobbin stands', 'The inner limb is loose or split: rebreathing', 'Out of use at once; change the circuit')],
  },
);
