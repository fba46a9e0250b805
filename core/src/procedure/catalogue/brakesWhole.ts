import type { Axle, Channel, EventPressureMethod, Id, Limit, OnSetUp, Parameter, Procedure, RuleSet, Source, Stage, Step, Value } from '../language';
import { itemsOf } from '../method';
import { commonPractice, fromMemory } from '../source';
import { brakeStates, combinationRoles, engineStates, lineStates, neverParted, neverRolls, together } from './brakeStates';
import { engineChannel, engineSpeeds, fastIdling, idling, running, stopped } from './engine';
import { act, band, caution, defers, fault, figure, is, item, limit, look, minutes, of, psi as unit, reach, seconds, soapTime, test, wait } from './parts';
import { searchAir } from './searchAir';

const cdl = fromMemory('Commercial driver licence manual', 'section 5, air brakes');
const nsc = fromMemory('Provincial air-brake manuals');
const warningRule = fromMemory('49 CFR 393.51', '(c)');
const strokeRule = fromMemory('49 CFR 393.47 and appendix A to part 396', 'push-rod stroke table');

const psi = (value: number) => of(value, unit);
const p = (value: number, source: Source = commonPractice): Parameter => figure(psi(value), source);
const inch = (value: number) => of(value, '[in_i]');

const at = (
  id: Id,
  channels: readonly Channel[],
  title: string,
  steps: readonly Step[],
  mark: Id,
  text: string,
  seen: Pick<EventPressureMethod, 'take' | 'by' | 'stands' | 'above' | 'below'> = {},
): Stage => test(id, 'vehicle', title, steps, { kind: 'eventPressure', channels, mark, text, ...seen });

const both = ['primary', 'secondary'] as const;

/** What the hurried eye calls standing still moves on by this in ten seconds. */
const standing = { s: 'stood', within: 'stoodWithin' } as const;

/** One rule goes from push-rod to push-rod: the same for every axle. */
const axle: Axle = { id: 'axle', title: 'Axle', left: 'strokeLeft', right: 'strokeRight' };

/** Released only with the wheels chocked and both lines on. */
const released: OnSetUp = { needs: { supplyLine: 'on', serviceLine: 'on', chocks: 'in' }, makes: { parking: 'released' } };
/** Moved against its own brakes, by somebody at the wheel: a chock left in would hold it for them. */
const driven: OnSetUp = { needs: { parking: 'set', supplyLine: 'on', serviceLine: 'on', chocks: 'out' }, makes: { engine: 'on' } };
const charging: OnSetUp = { makes: { engine: 'on', pedal: 'up' } };
const pumping: OnSetUp = { makes: { engine: 'off', pedal: 'up' } };

/** What keeps a moving test from being made is waited for: it is no fault of the vehicle. */
const clearGround = (id: Id): Step => act(id, 'Clear ground ahead, belted, nobody near', driven);

const stages: readonly Stage[] = [
  look('gather', 'vehicle', 'Identify and make safe', 'gather', [
    item('plate', 'The number on the chassis plate is the one in the log', { automatic: true }),
    item('ground', 'Level, clear ground; nobody under or between the vehicles'),
    item('chocks', 'Wheels chocked, before the parking brake is released', { automatic: true, makes: { chocks: 'in' } }),
  ]),
  test(
    'build-low',
    'vehicle',
    'Build up from low',
    [
      { ...reach('pump-down', 'primary', 'nothing', 'pumpedDown', 'Key with you, accessories on: fan the brakes down to below 30 psi'), ...pumping },
      act('engine-low', 'Start the engine, 600 to 900 a minute', { ...idling, stays: true }),
    ],
    {
      kind: 'elapsed',
      channel: 'primary',
      from: 'lowFrom',
      to: 'lowTo',
      speed: 'engine',
    },
  ),
  look('heads', 'vehicle', 'Coupling heads', 'test', [
    item('not-crossed', 'Supply and service lines are not crossed', { optional: true }),
    item('listened-at-100', 'At 100 psi, along both units: no air is heard'),
  ]),
  at(
    'cut-in',
    ['primary'],
    'Loads again',
    [
      act('engine-cut-in', 'Engine idling, air charged to cut-out', { ...idling, ...charging }),
      act('ease', 'One pump at a time; after each wait 8 to 20 s for the needle to turn'),
    ],
    'loads',
    'The needle turns: the compressor loads again',
    { take: 'lowest', by: 'turnedBy', below: 'unloads' },
  ),
  at(
    'cut-out',
    ['primary'],
    'Stops loading',
    [
      reach('bled', 'primary', 'nothing', 'cutOutFrom', 'The air stands low enough to be seen to charge: bleed it down where it does not'),
      act('engine-cut-out', 'Engine running', running),
    ],
    'unloads',
    'The needle stops rising: the compressor unloads',
    { take: 'highest', stands: standing, above: 'loads' },
  ),
  at(
    'cut-in-both',
    both,
    'Loads again, both gauges',
    [
      act('engine-cut-in-both', 'Engine at normal idle, air charged to cut-out', { ...idling, ...charging }),
      act('ease-both', 'One pump at a time: the pedal down 3 s, about 5 psi each; wait 8 to 15 s for the needles'),
    ],
    'loads-both',
    'Both needles turn: the compressor loads again',
    { take: 'lowest', by: 'turnedBy', below: 'unloads-both' },
  ),
  at(
    'cut-out-both',
    both,
    'Stops loading, both gauges',
    [act('engine-cut-out-both', 'Engine running', { ...running, ...charging })],
    'unloads-both',
    'Both needles stop rising: the compressor unloads',
    { take: 'highest', stands: standing, above: 'loads-both' },
  ),
  test('governor', 'vehicle', 'The governor is heard', [act('governor-charge', 'Engine running until it stops loading', { ...running, ...charging })], {
    kind: 'check',
    items: [
      item('governor-heard', 'Near 120 psi the governor lets go with a hiss, and the needle stands', {
        shown: { channel: 'primary', low: 'heardLow', high: 'heardHigh' },
      }),
    ],
  }),
  test(
    'static',
    'vehicle',
    'Static minute, brakes released',
    [
      { ...reach('charge', 'primary', 'chargedLow', 'chargedHigh', 'Run the engine until the air is charged'), ...charging },
      act('engine-off', 'Engine off, key on', stopped),
      act('release', 'Release the parking brake; keep off the pedal', together(released, { needs: { engine: 'off', pedal: 'up' } })),
      { ...wait('static-settle', 'settle', 'Let both needles come to rest'), needs: { engine: 'off', pedal: 'up' } },
    ],
    {
      kind: 'decay',
      channels: both,
      hold: 'minute',
      start: { low: 'staticLow', high: 'startHigh' },
      gas: { volume: 'vehicle.reservoir' },
    },
  ),
  test(
    'applied',
    'vehicle',
    'Applied minute, pedal held hard',
    [
      { ...reach('recharge', 'primary', 'fullLow', 'chargedHigh', 'Charge it to its most'), ...charging },
      act('pedal', 'Engine off, key on, parking brake off; press hard and hold', {
        ...stopped,
        ...together(released, stopped, { makes: { pedal: 'down' } }),
      }),
      { ...wait('applied-settle', 'settle', 'Keep the foot still until the needles stand; tap a dial'), needs: { engine: 'off', pedal: 'down' } },
    ],
    {
      kind: 'decay',
      channels: both,
      hold: 'minute',
      start: { low: 'appliedLow', high: 'startHigh' },
      firstDropAfter: 'pedal',
      gas: { volume: 'vehicle.reservoir' },
    },
  ),
  searchAir,
  at(
    'warning',
    both,
    'Low-air warning',
    [act('pump', 'Engine off, key on: pump the pedal on and off', { ...stopped, ...together(released, pumping) })],
    'warns',
    'The warning comes on',
  ),
  // Each signal by itself: a buzzer that sounds says nothing of a lamp.
  look('signals', 'vehicle', 'Each signal', 'test', [
    item('lamp-lit', 'The low-air lamp is lit', { when: is('vehicle.lowAirLamp', true) }),
    item('buzzer-sounds', 'The buzzer sounds', { when: is('vehicle.lowAirBuzzer', true) }),
    item('second-lamp', 'The second lamp is lit: at the rear, or of the other circuit', { when: is('vehicle.secondLamp', true) }),
    item('message-shown', 'The message stands on the display', { when: is('vehicle.lowAirMessage', true) }),
  ]),
  at(
    'pop-out',
    both,
    'Valve pops out',
    [act('pump-on', 'Pump on, the engine off', { ...stopped, needs: { chocks: 'in', engine: 'off' }, ...pumping })],
    'pops',
    'The parking valve pops out',
  ),
  look('valves', 'vehicle', 'Each valve', 'test', [
    item('parking-out', 'The parking valve is out'),
    item('trailer-out', 'The trailer’s supply valve is out as well', { optional: true }),
  ]),
  test('clears', 'vehicle', 'The warning clears', [act('charge-up', 'Start the engine and charge it again', { ...running, ...charging })], {
    kind: 'check',
    items: [item('warning-clears', 'Every lamp is out and the buzzer is silent', { shown: { channel: 'primary', low: 'clearsAt' } })],
  }),
  look('ebs-lamp', 'vehicle', 'Electronic-brake lamp', 'test', [
    item('ebs-lit', 'Key off, then on: the lamp lights while the gauges check themselves', { when: is('vehicle.ebs', true) }),
    item('lamp', 'It goes out by itself, once the engine runs where the maker says so', { when: is('vehicle.ebs', true), makes: { engine: 'on' } }),
    item('ebs-none', 'No lamp for electronic brakes stays lit', { when: is('vehicle.ebs', false) }),
  ]),
  test(
    'build-up',
    'vehicle',
    'Build up',
    [
      act('engine-on', 'Start the engine: fast idle, 1000 to 1500 a minute', {
        ...fastIdling,
        needs: { parking: 'set' },
        ...charging,
        stays: true,
      }),
    ],
    {
      kind: 'elapsed',
      channel: 'primary',
      from: 'upFrom',
      to: 'upTo',
      speed: 'engine',
    },
  ),
  test(
    'build-up-both',
    'vehicle',
    'Build up, both gauges',
    [
      act('engine-idle-both', 'Start the engine: normal idle; a fast idle that came on by itself is off by 80 psi', {
        ...idling,
        needs: { parking: 'set' },
        ...charging,
        stays: true,
      }),
    ],
    {
      kind: 'elapsed',
      channel: 'primary',
      second: 'secondary',
      from: 'upFrom',
      to: 'upTo',
      speed: 'engine',
    },
  ),
  at(
    'supply-line',
    ['primary'],
    'Supply line off',
    [
      act('supply-charge', 'Charged to its most; engine off, and the key goes with whoever gets out', { ...stopped, needs: { parking: 'set' } }),
      act('supply-off', 'Supply line off, then the trailer valve pushed in: air leaks from the vehicle until its protection valve closes', {
        needs: { parking: 'set', engine: 'off' },
        makes: { supplyLine: 'off' },
      }),
    ],
    'supply-closes',
    'The protection valve closes: the needle stands',
    { take: 'lowest', stands: standing },
  ),
  at(
    'service-line',
    ['primary'],
    'Service line off',
    [
      act('service-charge', 'Supply line back; charged to its most; engine off, the key with you', {
        ...stopped,
        ...together(stopped, { makes: { supplyLine: 'on' } }),
      }),
      act('service-off', 'Service line off; a firm application, held: air leaks until the valve closes', {
        needs: { parking: 'set', engine: 'off' },
        makes: { serviceLine: 'off', pedal: 'down' },
      }),
    ],
    'service-closes',
    'The protection valve closes: the needle stands',
    { take: 'lowest', stands: standing },
  ),
  look('lines-back', 'vehicle', 'Lines', 'test', [
    item('no-air', 'Listened at both coupling heads: no air once closed'),
    item('spike-held', 'Hand valve held on and listened for: no air from its line', { optional: true }),
    item('reconnected', 'Both lines reconnected', { makes: { supplyLine: 'on', serviceLine: 'on', pedal: 'up' } }),
  ]),
  test(
    'six',
    'vehicle',
    'Six full applications: the first three',
    [{ ...reach('six-charge', 'primary', 'chargedLow', 'chargedHigh', 'Charge it again'), ...charging }],
    {
      kind: 'check',
      items: [
        item('six-made', 'A full application, so that the adjusters work; never below 90 psi', {
          times: 3,
          for: 'application',
          shown: { channel: 'primary', low: 'applicationLow', fresh: true },
          makes: { pedal: 'up' },
        }),
      ],
    },
  ),
  test(
    'six-again',
    'vehicle',
    'The other three',
    [{ ...reach('six-recharge', 'primary', 'chargedLow', 'chargedHigh', 'Charge it again, so that none of them is below 90 psi'), ...charging }],
    {
      kind: 'check',
      items: [
        item('six-made-again', 'A full application; never below 90 psi', {
          times: 3,
          for: 'application',
          shown: { channel: 'primary', low: 'applicationLow', fresh: true },
          makes: { pedal: 'up' },
        }),
      ],
    },
  ),
  test(
    'stroke',
    'vehicle',
    'Push-rod strokes',
    [
      {
        ...reach('stroke-charge', 'primary', 'strokeLow', 'strokeHigh', 'Above 100 psi; wheels hard left, in gear, chocked, parking brake off'),
        ...together(released, charging),
      },
      act('marked', 'Engine off; mark every push-rod at the chamber’s mouth, then the pedal down at 90 to 100 psi, by a jack or a second person', {
        shown: stopped.shown,
        makes: { engine: 'off', pedal: 'down' },
      }),
      {
        ...reach(
          'stroke-held',
          'primary',
          'strokeHeld',
          'strokeHigh',
          'The pedal is down and the gauge stands at 90 psi or more: a stroke under less air is short',
        ),
        needs: { engine: 'off', pedal: 'down' },
      },
    ],
    {
      kind: 'stroke',
      axles: [axle],
    },
    { each: { list: 'axles', once: ['stroke-charge', 'marked'] } },
  ),
  look('stroke-over', 'vehicle', 'Strokes are done', 'test', [
    item('jack-out', 'Pedal jack out', { makes: { pedal: 'up' } }),
    item('chocks-stowed', 'Chocks stowed', { needs: { parking: 'set' }, makes: { chocks: 'out' } }),
    item('covers-shut', 'Covers and hatches shut'),
  ]),
  test('tug', 'vehicle', 'Tug tests', [clearGround('tug-ground')], {
    kind: 'check',
    items: [
      item('tug-trailer', 'Trailer valve out, parking valve in: a gentle tug, and the trailer’s brakes hold', { ...driven, optional: true }),
      item('parking-holds', 'Parking valve out: a tug in low gear, and the parking brake holds', driven),
      item('tug-spike', 'Hand valve alone: a gentle tug, and the trailer’s brakes hold', { ...driven, optional: true }),
      item('service-holds', 'Ten feet ahead and ten back, a gentle stop each way: straight, and it lets go'),
    ],
  }),
  test('moving', 'vehicle', 'Moving tests', [clearGround('moving-ground')], {
    kind: 'check',
    items: [
      item('moving-parking', 'Against the parking brake in low gear, a gentle pull: it holds', driven),
      item('moving-tractor', 'Trailer valve in, parking valve out: against it in low gear, the towing vehicle’s brake holds', driven),
      item('moving-trailer', 'Parking valve in, trailer valve out: against it in low gear, the trailer’s brakes hold', driven),
      item('moving-spike', 'Trailer valve in, at a slight roll: the hand valve alone takes hold', driven),
      item('moving-service', 'Straight ahead at about 5 mph, a firm stop: straight, no pull, no stutter, no delay', driven),
      item('moving-service-a', 'Straight ahead at no more than 5 mph, a firm stop: straight, no pull, no stutter, no delay', driven),
      item('moving-service-b', 'Straight ahead at 3 to 5 mph, a firm stop: straight, no pull, no stutter, no delay', driven),
      item('moving-service-f', 'Straight ahead at 5 mph or a little more, a firm stop: straight, no pull, no stutter, no delay', driven),
      item('parked', 'Parked afterwards: in neutral, the parking brake set', { makes: { parking: 'set' } }),
    ],
  }),
  look('coupled-holds', 'vehicle', 'Coupled holds', 'test', [
    item('fifth-wheel', 'Trailer brakes on, a gentle pull: the fifth wheel holds', driven),
    item('trailer-holds', 'Trailer brakes alone hold'),
  ]),
  look('aftercare', 'vehicle', 'Leave it safe', 'aftercare', [
    item('park', 'Parking brake set, then the pedal let up', { makes: { parking: 'set', pedal: 'up' } }),
    item('drained', 'Tanks drained where the day’s work is over', { optional: true }),
    item('written', 'Log written; both gauges noted'),
  ]),
];

/** Readjustment limits by chamber type, clamp type, in. Source: 49 CFR 393.47(e), appendix A, from memory. The table, and not 80 % of the rated stroke. */
const strokeTable: readonly (readonly [string, number])[] = [
  ['6', 1.25],
  ['9', 1.375],
  ['12', 1.375],
  ['16', 1.75],
  ['20', 1.75],
  ['24', 1.75],
  ['30', 2],
  ['36', 2.25],
  ['12L', 1.75],
  ['16L', 2],
  ['20L', 2],
  ['24L', 2],
  ['24LS', 2.5],
  ['30LS', 2.5],
];
const strokeMost: Value = { rows: strokeTable.map(([type, most]) => ({ when: is('axles.chamber', type), value: inch(most) })) };

interface School extends Pick<RuleSet, 'id' | 'title' | 'note' | 'suits'> {
  readonly order: readonly Id[];
  /** Stages that this school does. */
  readonly does: readonly Id[];
  readonly chargedLow: number;
  readonly fullLow?: number;
  readonly upFrom?: number;
  readonly settleS?: number;
  /** What it is charged from to see it stop; where nothing is said, it comes there on its way up. */
  readonly cutOutFrom?: number;
  /** Which of the moving tests it makes. */
  readonly moves?: readonly Id[];
  readonly limits: readonly Limit[];
  readonly holdFrom?: RuleSet['holdFrom'];
  readonly prompts?: RuleSet['prompts'];
}

/** The signals are looked at while the pressure is low, and that they clear once it is charged again. */
function withLooks(stages: readonly Id[]): readonly Id[] {
  const charged = stages.find((id) => id.startsWith('build-up')) ?? 'pop-out';
  return stages.flatMap((id) => [id, ...(id === 'warning' ? ['signals'] : []), ...(id === charged ? ['clears'] : [])]);
}

const always = ['gather', 'aftercare'];
const movingTests = itemsOf(stages.find((s) => s.id === 'moving')?.method ?? { kind: 'check', items: [] }).map((i) => i.id);
const oneMoving: readonly Id[] = ['moving-parking', 'moving-service', 'parked'];

function rules(s: School): RuleSet {
  const done = new Set([...always, ...withLooks(s.does), 'find']);
  return {
    id: s.id,
    title: s.title,
    edition: '1',
    note: s.note,
    ...(s.suits ? { suits: s.suits } : {}),
    order: withLooks(s.order),
    skip: [
      ...stages.map((x) => x.id).filter((id) => !done.has(id)),
      ...(s.cutOutFrom === undefined ? ['bled'] : []),
      ...(done.has('moving') ? movingTests.filter((id) => !(s.moves ?? oneMoving).includes(id)) : []),
    ],
    ...(s.holdFrom ? { holdFrom: s.holdFrom } : {}),
    ...(s.prompts ? { prompts: s.prompts } : {}),
    parameters: {
      chargedLow: p(s.chargedLow),
      chargedHigh: p(140),
      // A leak loses less from less: the applied minute begins at the most air that the compressor brings.
      fullLow: p(s.fullLow ?? 115),
      staticLow: p(90),
      appliedLow: p(90, cdl),
      startHigh: p(150),
      settle: seconds(s.settleS ?? 30),
      minute: minutes(1, cdl),
      ...soapTime,
      ...engineSpeeds,
      nothing: p(0),
      turnedBy: p(1),
      heardLow: p(110),
      heardHigh: p(135),
      stood: seconds(10),
      stoodWithin: p(1),
      pumpedDown: p(30, nsc),
      ...(s.cutOutFrom === undefined ? {} : { cutOutFrom: p(s.cutOutFrom) }),
      lowFrom: p(50, nsc),
      lowTo: p(90, nsc),
      upFrom: p(s.upFrom ?? 85, cdl),
      upTo: p(100, cdl),
      // One school hears them stop just after 55, another between 60 and 70.
      clearsAt: p(75),
      strokeLow: p(100, strokeRule),
      strokeHigh: p(150),
      strokeHeld: p(90, strokeRule),
      application: seconds(2),
      applicationLow: p(90, nsc),
    },
    limits: s.limits,
    decision: { kind: 'simple' },
  };
}

/** On the gauge that is judged; both where none is named. */
const on = (channel: Channel | null): Partial<Limit> => (channel === null ? {} : { channel });
const primary = 'primary';

/** 55 psi or half of cut-out, whichever is less, is the in-use rule; schools ask for more. */
const warns = (id: string, low: number, high: number | null, source = warningRule, gauge: Channel | null = primary): readonly Limit[] => [
  limit(
    `${id}.warning.low`,
    'warning',
    'pressure',
    '>=',
    {
      rows: [
        { when: is('vehicle.school', 'stricter'), value: psi(Math.max(60, low)) },
        { when: { all: [] }, value: psi(low) },
      ],
    },
    source,
    on(gauge),
  ),
  ...(high === null ? [] : [limit(`${id}.warning.high`, 'warning', 'pressure', '<=', psi(high), commonPractice, on(gauge))]),
];
const pops = (id: string, low: number, high: number | null, source = cdl, gauge: Channel | null = primary): readonly Limit[] =>
  high === null
    ? [limit(`${id}.pop`, 'pop-out', 'pressure', '>=', psi(low), source, on(gauge))]
    : band(`${id}.pop`, 'pop-out', 'pressure', psi(low), psi(high), source, on(gauge));

export const brakesWhole: Procedure = {
  id: 'brakes.whole',
  edition: '2',
  language: 2,
  title: 'Air brakes, whole test',
  verdictWords: { pass: 'passes', fail: 'fails' },
  claims: 'within figures',
  warning: `Moving tests on clear ground only, belted. Stay away from push-rods and from under the vehicle. ${defers}`,
  sources: [cdl, nsc, warningRule, strokeRule, commonPractice],
  roles: combinationRoles,
  channels: {
    primary: { role: 'vehicle', unit, title: 'Primary gauge' },
    secondary: { role: 'vehicle', unit, title: 'Secondary gauge' },
    engine: engineChannel,
    strokeLeft: { role: 'vehicle', unit: '[in_i]', title: 'Stroke, left', optional: true },
    strokeRight: { role: 'vehicle', unit: '[in_i]', title: 'Stroke, right', optional: true },
  },
  lists: {
    axles: {
      part: 'braked-axle',
      title: 'Axles',
      one: 'Axle',
      most: 16,
      count: ['vehicle.axles', 'trailer.axles', 'secondTrailer.axles'],
      covers: { by: 'unit', count: 'vehicle.units' },
    },
  },
  states: { ...brakeStates, ...engineStates, ...lineStates },
  never: [...neverRolls, ...neverParted],
  bring: [
    'Chocks',
    'A pedal jack; a second person only where there is none',
    'Chalk and a rule with sixteenths for the strokes',
    'The key, in the pocket of whoever gets out',
  ],
  stages,
  ruleSets: [
    rules({
      id: 'single',
      title: 'Single vehicle, general',
      note: 'Cut-out 120 to 140, cut-in at 100 or more; static under 2, applied at most 3; warning at 55 or more; pop-out 20 to 45; 85 to 100 in 45 s.',
      suits: is('vehicle.useAs', 'single'),
      order: ['cut-out', 'cut-in', 'static', 'applied', 'warning', 'pop-out', 'build-up', 'moving'],
      does: ['cut-out', 'cut-in', 'static', 'applied', 'warning', 'pop-out', 'build-up', 'moving'],
      cutOutFrom: 100,
      chargedLow: 100,
      limits: [
        ...band('single.cut-out', 'cut-out', 'pressure', psi(120), psi(140)),
        limit('single.cut-in', 'cut-in', 'pressure', '>=', psi(100)),
        limit('single.static', 'static', 'loss', '<', psi(2), cdl, on(primary)),
        limit('single.applied', 'applied', 'loss', '<=', psi(3), cdl, on(primary)),
        ...warns('single', 55, null),
        ...pops('single', 20, 45),
        limit('single.build', 'build-up', 'time', '<=', of(45, 's'), cdl, on(primary)),
      ],
    }),
    rules({
      id: 'single-applied',
      title: 'Single vehicle, no static minute',
      note: 'As the single vehicle, where the state leaves the static minute out: the officer chooses it.',
      order: ['cut-out', 'cut-in', 'applied', 'warning', 'pop-out', 'build-up', 'moving'],
      does: ['cut-out', 'cut-in', 'applied', 'warning', 'pop-out', 'build-up', 'moving'],
      cutOutFrom: 100,
      chargedLow: 100,
      limits: [
        ...band('single-applied.cut-out', 'cut-out', 'pressure', psi(120), psi(140)),
        limit('single-applied.cut-in', 'cut-in', 'pressure', '>=', psi(100)),
        limit('single-applied.applied', 'applied', 'loss', '<=', psi(3), cdl, on(primary)),
        ...warns('single-applied', 55, null),
        ...pops('single-applied', 20, 45),
        limit('single-applied.build', 'build-up', 'time', '<=', of(45, 's'), cdl, on(primary)),
      ],
    }),
    rules({
      id: 'combination',
      title: 'Combination, general',
      note: 'Starts below 90; cut-out, cut-in, applied loss, warning, pop-out, moving tests, coupled holds.',
      suits: is('vehicle.useAs', 'combination'),
      order: ['heads', 'cut-out', 'cut-in', 'applied', 'warning', 'pop-out', 'valves', 'moving', 'coupled-holds'],
      does: ['heads', 'cut-out', 'cut-in', 'applied', 'warning', 'pop-out', 'valves', 'moving', 'coupled-holds'],
      cutOutFrom: 90,
      moves: ['moving-tractor', 'moving-trailer', 'moving-service', 'moving-spike', 'parked'],
      chargedLow: 100,
      limits: [
        limit('combination.cut-out', 'cut-out', 'pressure', '<=', psi(140)),
        limit('combination.cut-in', 'cut-in', 'pressure', '>=', psi(100)),
        limit('combination.applied', 'applied', 'loss', '<=', psi(4), cdl, on(primary)),
        ...warns('combination', 55, 75, commonPractice),
        ...pops('combination', 20, 45),
      ],
    }),
    rules({
      id: 'fire-apparatus',
      title: 'Fire apparatus',
      note: 'Cut-in, cut-out, applied loss on both gauges, warning, pop-out, electronic-brake lamp, build-up at idle, moving tests.',
      suits: is('vehicle.useAs', 'fire apparatus'),
      order: ['cut-in-both', 'cut-out-both', 'applied', 'warning', 'pop-out', 'ebs-lamp', 'build-up-both', 'moving'],
      does: ['cut-in-both', 'cut-out-both', 'applied', 'warning', 'pop-out', 'ebs-lamp', 'build-up-both', 'moving'],
      moves: ['moving-parking', 'moving-service-f', 'parked'],
      chargedLow: 100,
      limits: [
        limit('fire.cut-in', 'cut-in-both', 'pressure', '>=', psi(100)),
        limit('fire.cut-out', 'cut-out-both', 'pressure', '<=', psi(140)),
        limit('fire.applied', 'applied', 'loss', '<=', psi(3)),
        ...warns('fire', 55, 75, commonPractice, null),
        ...pops('fire', 20, 45, cdl, null),
        limit('fire.build', 'build-up-both', 'time', '<=', of(45, 's'), commonPractice, on(primary)),
      ],
    }),
    rules({
      id: 'bus-a',
      title: 'Bus, order A',
      note: 'Moving tests first; static loss, applied loss, warning, pop-out.',
      suits: is('vehicle.useAs', 'bus A'),
      order: ['moving', 'governor', 'static', 'applied', 'warning', 'pop-out'],
      does: ['moving', 'governor', 'static', 'applied', 'warning', 'pop-out'],
      moves: ['moving-parking', 'moving-service-a', 'parked'],
      chargedLow: 100,
      fullLow: 100,
      limits: [
        limit('bus-a.static', 'static', 'loss', '<=', psi(2), commonPractice, on(primary)),
        limit('bus-a.applied', 'applied', 'loss', '<=', psi(3), commonPractice, on(primary)),
        ...warns('bus-a', 55, null),
        ...pops('bus-a', 20, 40, commonPractice),
      ],
    }),
    rules({
      id: 'bus-b',
      title: 'Bus, order B',
      note: 'Applied loss with its first drop, warning, pop-out, build-up at fast idle in under 45 s, moving tests.',
      suits: is('vehicle.useAs', 'bus B'),
      order: ['ebs-lamp', 'governor', 'applied', 'warning', 'pop-out', 'build-up', 'moving'],
      does: ['ebs-lamp', 'governor', 'applied', 'warning', 'pop-out', 'build-up', 'moving'],
      moves: ['moving-parking', 'moving-service-b', 'parked'],
      chargedLow: 100,
      limits: [
        limit('bus-b.first', 'applied', 'firstDrop', '<=', psi(15), commonPractice, on(primary)),
        limit('bus-b.applied', 'applied', 'loss', '<=', psi(3), commonPractice, on(primary)),
        ...warns('bus-b', 55, null),
        ...pops('bus-b', 20, 40, commonPractice),
        limit('bus-b.build', 'build-up', 'time', '<', of(45, 's'), commonPractice, on(primary)),
      ],
    }),
    rules({
      id: 'build-from-low',
      title: 'Build from low',
      note: 'Build-up from 30 psi; heads; cut-out; cut-in; warning; pop-out; supply and service line valves; system leak with its minute from the pedal; six applications; strokes; tug tests.',
      suits: is('vehicle.useAs', 'build from low'),
      order: [
        'build-low',
        'heads',
        'cut-out',
        'cut-in',
        'warning',
        'pop-out',
        'valves',
        'supply-line',
        'service-line',
        'lines-back',
        'applied',
        'six',
        'six-again',
        'stroke',
        'stroke-over',
        'tug',
      ],
      does: [
        'build-low',
        'heads',
        'cut-out',
        'cut-in',
        'warning',
        'pop-out',
        'valves',
        'supply-line',
        'service-line',
        'lines-back',
        'applied',
        'six',
        'six-again',
        'stroke',
        'stroke-over',
        'tug',
      ],
      chargedLow: 100,
      settleS: 10,
      holdFrom: { applied: 'pedal' },
      prompts: [{ stage: 'applied', every: of(30, 's'), text: 'Tap the glass', byEye: true, source: nsc }],
      limits: [
        limit('low.build', 'build-low', 'time', '<', of(3, 'min'), nsc, on(primary)),
        ...band('low.cut-out', 'cut-out', 'pressure', psi(115), psi(135)),
        limit('low.cut-in', 'cut-in', 'pressure', '>=', psi(80)),
        ...warns('low', 60, null, commonPractice),
        ...pops('low', 20, null, commonPractice),
        limit('low.supply', 'supply-line', 'pressure', '>=', psi(20)),
        limit('low.service', 'service-line', 'pressure', '>=', psi(20)),
        limit(
          'low.applied',
          'applied',
          'loss',
          '<=',
          {
            rows: [
              { when: { attribute: 'vehicle.units', below: of(2, '1') }, value: psi(3) },
              { when: { attribute: 'vehicle.units', below: of(3, '1') }, value: psi(4) },
              { when: { attribute: 'vehicle.units', below: of(4, '1') }, value: psi(6) },
            ],
          },
          nsc,
          on(primary),
        ),
        // This school reads its table as the most there may be: 1¾ in on a chamber 20, 2 in on a 30.
        limit('low.stroke', 'stroke', 'stroke', '<=', strokeMost, strokeRule),
        limit('low.difference', 'stroke', 'difference', '<=', inch(0.25)),
      ],
    }),
  ],
  cautions: [
    caution('gather', 'Chocks first. Once the parking brake is off, only they hold the vehicle.'),
    caution('applied', 'Nobody near brake chambers or push-rods while the pedal is down.'),
    caution('stroke', 'Chocked, engine off, and the hand away from the push-rod before the pedal goes down.'),
    caution('moving', 'Chocks out, ground clear, belted.'),
    caution('supply-line', 'A line under pressure whips: shut off, then part it.'),
    caution('aftercare', 'Set the parking brake before you let the pedal up or take a chock out.'),
  ],
  faults: [
    fault('build-low', 'Longer than three minutes', 'Compressor, intake or a large leak', 'Soap the compressor line; then the governor'),
    fault('heads', 'Crossed', 'Wrong line', 'Cross them back'),
    fault('cut-in-both', 'Never loads, or only one needle turns', 'Governor, or that circuit', 'Governor to the workshop; follow the circuit that stands'),
    fault('cut-out-both', 'Never stops, or too high', 'Governor', 'Stop the engine before the safety valve opens'),
    fault('cut-out', 'Low', 'Governor set low, or the compressor is worn', 'Governor first: a build-up in time says the compressor is sound'),
    fault('governor', 'Not heard', 'Governor, or its line', 'Governor to the workshop'),
    fault('applied', 'High first drop, then steady', 'Long strokes, or much water in the tanks', 'Measure the strokes; drain the tanks'),
    fault('warning', 'Early', 'Switch set high', 'Switch to the workshop: a warning that always sounds is heeded by nobody'),
    fault('pop-out', 'Early', 'Parking valve worn', 'Change it: it sets the brakes while there is air'),
    fault('build-up-both', 'Longer than 45 s', 'Compressor or a leak', 'Repeat after the leak test'),
    fault('six-again', 'Below 90 psi', 'Not charged between', 'Charge it, and begin the six again'),
    fault('stroke-over', 'A cover is missing', 'Left on the ground', 'Find it before anything moves'),
    fault('cut-in', 'Never loads', 'Governor', 'Governor to the workshop'),
    fault('cut-out', 'Never stops, or too high', 'Governor', 'Stop the engine before the safety valve opens'),
    fault('static', 'Falls with the brakes released', 'Drain, line, coupling or parking circuit', 'Soap drains first'),
    fault(
      'applied',
      'Stands when released, falls when applied',
      'Chamber diaphragm, service hose or foot valve',
      'Second person on the pedal: listen at each chamber',
    ),
    fault('find', 'It bubbles', 'That drain, joint, valve or chamber', 'Out of use until it is mended; a retest after it'),
    fault('warning', 'Late or never', 'Switch or lamp', 'Out of service until it works'),
    fault('signals', 'One of them is dead', 'Lamp, buzzer or its wire', 'Out of service until each that is fitted works'),
    fault('pop-out', 'Late or never', 'Parking valve', 'Out of service until it works'),
    fault('valves', 'One stays in', 'That valve', 'Out of service until it works'),
    fault('clears', 'The warning stays on', 'Switch', 'Out of service until it works'),
    fault('ebs-lamp', 'It stays on', 'A stored fault', 'Read it out'),
    fault('build-up', 'Longer than 45 s', 'Compressor or a leak', 'Repeat after the leak test'),
    fault('supply-line', 'It does not close', 'Protection valve', 'Change it'),
    fault('service-line', 'It does not close', 'Protection valve', 'Change it'),
    fault('lines-back', 'Air from a head', 'Valve passes', 'Clean or change it'),
    fault('six', 'The strokes change', 'Adjusters were behind', 'Measure after the sixth'),
    fault('stroke', 'Past its limit', 'Adjuster or worn lining', 'Not wound up by hand only: find why'),
    fault('tug', 'It creeps', 'Parking brake', 'Springs, or strokes'),
    fault('moving', 'It pulls', 'Uneven strokes or a wet drum', 'Measure the strokes'),
    fault('coupled-holds', 'It creeps', 'Fifth wheel or trailer brakes', 'Look at the jaws before another try'),
  ],
};
