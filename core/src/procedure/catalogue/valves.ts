import type { Limit, Procedure, RuleSet, Stage, Value } from '../language';
import { commonPractice, fromMemory } from '../source';
import { act, band, caution, defers, fault, figure, inH2O, is, item, limit, look, minutes, of, psi, reach, seconds, soapTime, test, wait } from './parts';

const cp201 = fromMemory('CARB CP-201, TP-201.1E; 40 CFR 63 subpart CCCCCC');
const ug134 = fromMemory('ASME BPVC section XIII (formerly VIII-1, UG-134)');
const iso4126 = fromMemory('ISO 4126-1');
const sectionI = fromMemory('ASME BPVC section I', 'PG-69, PG-72');
const api527 = fromMemory('API 527', 'table 1');

const h2o = (value: number) => of(value, inH2O);
const cfh = (value: number) => of(value, '[cft_i]/h');
const mlMin = (value: number) => of(value, 'mL/min');

const leakPart = (sign: 'plus' | 'minus', title: string): Stage =>
  test(
    `leak-${sign}`,
    'valve',
    title,
    [reach(`leak-${sign}-set`, 'pressure', `${sign}Low`, `${sign}High`, `Bring it to ${sign === 'plus' ? '+2.00' : '−4.00'} inH2O and hold it with the flow`)],
    {
      kind: 'makeUpFlow',
      pressure: 'pressure',
      flow: 'flow',
      band: { low: `${sign}Low`, high: `${sign}High` },
      hold: 'hold',
    },
  );
const crackPart = (sign: 'plus' | 'minus', title: string, flow: string): Stage =>
  test(
    `crack-${sign}`,
    'valve',
    title,
    [act(`crack-${sign}-flow`, `Flow at ${flow}`, { shown: { channel: 'flow', low: `${sign}FlowLow`, high: `${sign}FlowHigh` }, stays: true })],
    {
      kind: 'eventPressure',
      channels: ['pressure'],
      mark: `cracks-${sign}`,
      text: sign === 'plus' ? 'The highest before the sudden drop' : 'The lowest before the sudden rise',
      take: sign === 'plus' ? 'highest' : 'lowest',
    },
  );

export const valveVent: Procedure = {
  id: 'valve.vent',
  edition: '2',
  language: 2,
  title: 'Pressure-vacuum vent valve, four parts',
  verdictWords: { pass: 'passes', fail: 'fails' },
  claims: 'within figures',
  warning: `Nitrogen asphyxiates: test in the open. ${defers}`,
  sources: [cp201, commonPractice],
  roles: { valve: { classes: ['vent-valve'] } },
  channels: {
    pressure: { role: 'valve', unit: inH2O, title: 'Manometer', asks: { upTo: 'fullScale', calibratedWithin: 'calibrated' } },
    flow: { role: 'valve', unit: 'mL/min', title: 'Flow meter', asks: { calibratedWithin: 'calibrated' } },
  },
  bring: [
    'Manometer of no more than 20 inH2O, calibrated within 180 days',
    'Flow meter, calibrated within 180 days',
    'Test stand with its cap',
    'Torque wrench',
    'Sealant, soap',
    'Nitrogen with its own relief valve',
  ],
  stages: [
    look('before', 'valve', 'Before', 'precondition', [
      item('in-service', 'The valve that was in service, and not a new one', { automatic: true }),
      item('warmed', 'Manometer warmed up, and at zero with nothing on it', { shown: { channel: 'pressure', low: 'zeroLow', high: 'zeroHigh' } }),
      item('after-separator', 'The separator test is done; the torque test is not'),
    ]),
    test(
      'stand',
      'valve',
      'Prove the stand',
      [
        act('capped', 'Stand capped, sealant on its thread, soaped'),
        reach('stand-up', 'pressure', 'standLow', 'standHigh', 'Bring it to 18 to 20 inH2O'),
        act('stand-soaped', 'Stand and cap soaped: no bubble'),
      ],
      {
        kind: 'decay',
        channels: ['pressure'],
        hold: 'standHold',
        start: { low: 'standLow', high: 'standHigh' },
      },
      { phase: 'rig' },
    ),
    look('fit', 'valve', 'Valve in', 'gather', [item('torqued', 'Valve on the stand at the torque of its approval')]),
    leakPart('plus', 'Leak, pressure side'),
    crackPart('plus', 'Opening, pressure side', '120 mL/min'),
    leakPart('minus', 'Leak, suction side'),
    crackPart('minus', 'Opening, suction side', '200 mL/min'),
    look('aftercare', 'valve', 'Refit', 'aftercare', [item('refitted', 'Refitted at its torque, sealant on the thread'), item('flow-off', 'Nitrogen shut')]),
  ],
  ruleSets: [
    {
      id: 'in-order',
      title: 'Four parts in order',
      edition: '1',
      note: 'Leak and opening on the pressure side, then on the suction side, in this order: out of order is void. All four are done even if one fails; no repair between.',
      order: ['leak-plus', 'crack-plus', 'leak-minus', 'crack-minus'],
      strict: true,
      skip: [],
      parameters: {
        zeroLow: figure(h2o(-0.02)),
        zeroHigh: figure(h2o(0.02)),
        standLow: figure(h2o(18)),
        standHigh: figure(h2o(20)),
        standHold: minutes(1),
        fullScale: figure(h2o(20), cp201),
        calibrated: figure(of(180, 'd'), cp201),
        plusLow: figure(h2o(1.95)),
        plusHigh: figure(h2o(2.05)),
        minusLow: figure(h2o(-4.05)),
        minusHigh: figure(h2o(-3.95)),
        hold: seconds(10),
        // A tenth to each side of 120 and of 200: common practice.
        plusFlowLow: figure(mlMin(108), cp201),
        plusFlowHigh: figure(mlMin(132), cp201),
        minusFlowLow: figure(mlMin(180), cp201),
        minusFlowHigh: figure(mlMin(220), cp201),
      },
      limits: [
        limit('in-order.stand', 'stand', 'loss', '<=', h2o(0.1)),
        limit('in-order.leak-plus', 'leak-plus', 'flow', '<=', cfh(0.05), cp201),
        ...band('in-order.crack-plus', 'crack-plus', 'pressure', h2o(2.5), h2o(6), cp201),
        limit('in-order.leak-minus', 'leak-minus', 'flow', '<=', cfh(0.21), cp201),
        ...band('in-order.crack-minus', 'crack-minus', 'pressure', h2o(-10), h2o(-6), cp201),
      ],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [caution('stand', 'Nitrogen with its own relief valve.'), caution('aftercare', 'Never left off the vent pipe.')],
  faults: [
    fault('leak-plus', 'Over the limit', 'Dirt on the pressure seat', 'No cleaning between parts: it fails, clean and test again'),
    fault('crack-plus', 'Too high', 'Sticking disc', 'Change the valve'),
    fault('leak-minus', 'Over the limit', 'Dirt on the suction seat', 'No cleaning between parts'),
    fault('crack-minus', 'Too low', 'Sticking disc', 'Change the valve'),
    fault('stand', 'The stand sinks', 'Cap or fitting', 'Remake it, prove it again'),
  ],
};

const set = { attribute: 'valve.set' } as const;
const share = (percent: number): Value => ({ formula: 'share', of: { of: set, share: of(percent, '%') } });
const asme: Value = {
  rows: [
    { when: { attribute: 'valve.set', upTo: of(70, psi) }, value: of(2, psi) },
    { when: { attribute: 'valve.set', from: of(70, psi) }, value: share(3) },
  ],
};
/** The band of a power boiler’s safety valve, by set pressure. */
const boiler: Value = {
  rows: [
    { when: { attribute: 'valve.set', upTo: of(70, psi) }, value: of(2, psi) },
    { when: { attribute: 'valve.set', upTo: of(300, psi) }, value: share(3) },
    { when: { attribute: 'valve.set', upTo: of(1000, psi) }, value: of(10, psi) },
    { when: { attribute: 'valve.set', from: of(1000, psi) }, value: share(1) },
  ],
};
const iso: Value = { formula: 'greater', of: { a: share(3), b: of(0.1, 'bar') } };
const plus = (tolerance: Value): Value => ({ formula: 'sum', of: { a: set, b: tolerance } });
const less = (tolerance: Value): Value => ({ formula: 'less', of: { a: set, b: tolerance } });

/** At 90 % of set; 5 psi below where that is 50 psi or less. */
const seatPressure: Value = {
  rows: [
    { when: { attribute: 'valve.set', upTo: of(50, psi) }, value: { formula: 'less', of: { a: set, b: of(5, psi) } } },
    { when: { attribute: 'valve.set', from: of(50, psi) }, value: share(90) },
  ],
};

/** Bubbles a minute by set pressure, for metal seats; the lower row between two rows, because the standard's interpolation is not certain. */
const bubbles = (rows: readonly (readonly [number, number, number])[]): Value => ({
  rows: [
    { when: is('valve.seat', 'soft'), value: of(0, '1') },
    ...rows.flatMap(([upTo, small, large]) => [
      {
        when: {
          all: [
            { attribute: 'valve.set' as const, upTo: of(upTo, psi) },
            { attribute: 'valve.orifice' as const, upTo: of(0.307, '1') },
          ],
        },
        value: of(small, '1'),
      },
      { when: { attribute: 'valve.set' as const, upTo: of(upTo, psi) }, value: of(large, '1') },
    ]),
  ],
});
const metal = bubbles([[1499.99, 40, 20], [1999.99, 60, 30], [2499.99, 80, 40], [2999.99, 100, 50], [3999.99, 100, 60], [4999.99, 100, 80], [10000, 100, 100]]); // prettier-ignore

const reliefRules = (
  id: string,
  title: string,
  note: string,
  tolerance: Value,
  source: Limit['source'],
  bubblesToo: boolean,
  more: readonly Limit[] = [],
): RuleSet => ({
  id,
  title,
  edition: '1',
  note,
  order: 'free',
  skip: bubblesToo ? ['seat', 'seat-soap'] : ['bubbles'],
  parameters: {
    set: figure(set, source),
    seatLow: figure(seatPressure, api527),
    seatHigh: figure({ formula: 'sum', of: { a: seatPressure, b: share(1) } }),
    seatHold: minutes(1, api527),
    settle: minutes(1, api527),
    ...soapTime,
  },
  limits: [
    ...band(`${id}.crack`, 'crack', 'pressure', less(tolerance), plus(tolerance), source),
    ...(bubblesToo
      ? [limit(`${id}.bubbles`, 'bubbles', 'count', '<=', metal, api527)]
      : [
          limit(`${id}.seat-soap`, 'seat-soap', 'grade', '<=', of(0, '1')),
          limit(`${id}.seat`, 'seat', 'loss', '<=', share(1), commonPractice, {
            sends: 'No bubble at the seat accounts for it: soap manifold and fittings, mend them, and hold it again',
          }),
          ...more,
        ]),
  ],
  decision: { kind: 'simple' },
});

export const valveRelief: Procedure = {
  id: 'valve.relief',
  edition: '2',
  language: 2,
  title: 'Relief valve, opening and seat',
  verdictWords: { pass: 'passes', fail: 'fails' },
  claims: 'within figures',
  warning: `It opens with a bang and a jet: guard, ear protection, nobody in line. ${defers}`,
  sources: [ug134, sectionI, iso4126, api527, commonPractice],
  roles: { valve: { classes: ['relief-valve'] } },
  channels: {
    pressure: { role: 'valve', unit: psi, title: 'Test gauge' },
    bubbles: { role: 'valve', unit: '1', title: 'Bubbles in a minute', optional: true },
  },
  bring: ['Test bench with its own relief valve', 'Pressure logger', 'Tube for bubble counts, soap'],
  stages: [
    look('before', 'valve', 'Before', 'gather', [
      item('plate', 'Set pressure read from the plate, and it is the one in the log', { automatic: true }),
      item('clean', 'Outlet clear, seat clean as received'),
    ]),
    test('crack', 'valve', 'Three openings', [act('mounted', 'Valve mounted, bench bled')], { kind: 'relief', channel: 'pressure', repeats: 3, set: 'set' }),
    test(
      'seat',
      'valve',
      'Seat',
      [
        reach('seat-up', 'pressure', 'seatLow', 'seatHigh', 'Bring it to the seat pressure'),
        wait('seat-settle', 'settle', 'Let it stand'),
        act('seat-isolate', 'Isolate, soap at the seat'),
      ],
      {
        kind: 'decay',
        channels: ['pressure'],
        hold: 'seatHold',
        start: { low: 'seatLow', high: 'seatHigh' },
      },
    ),
    {
      ...test(
        'seat-soap',
        'valve',
        'Soap at the seat',
        [reach('soap-up', 'pressure', 'seatLow', 'seatHigh', 'At the seat pressure, isolated, the outlet soaped')],
        {
          kind: 'survey',
          outline: 'valve',
          each: 'soapEach',
          route: [{ id: 'seat', text: 'Seat, looked at through the outlet' }],
        },
      ),
    },
    test(
      'bubbles',
      'valve',
      'Bubble count',
      [reach('bubble-up', 'pressure', 'seatLow', 'seatHigh', 'Bring it to the seat pressure'), wait('bubble-wait', 'settle', 'Let it stand before counting')],
      {
        kind: 'eventPressure',
        channels: ['bubbles'],
        mark: 'counted',
        text: 'One minute counted',
      },
    ),
    look('aftercare', 'valve', 'Seal it', 'aftercare', [
      item('bled', 'Bench bled to nothing'),
      item('sealed', 'Adjustment sealed, tag with date and set pressure'),
    ]),
  ],
  ruleSets: [
    reliefRules('asme', '±2 psi to 70, ±3 % above', 'Three openings, all in the band, not their mean; then the seat for one minute.', asme, ug134, false),
    reliefRules(
      'boiler',
      'Power boiler: ±2 psi to 70, ±3 % to 300, ±10 psi to 1000, ±1 % above',
      'Three openings in the band of a power boiler; it shuts again by 10 % below set; then the seat.',
      boiler,
      sectionI,
      false,
      [limit('boiler.blowdown', 'crack', 'blowdown', '<=', of(10, '%'))],
    ),
    reliefRules('iso', '±3 % or 0.1 bar', 'Three openings within 3 % or 0.1 bar, whichever is greater; then the seat.', iso, iso4126, false),
    reliefRules(
      'bubbles',
      '±2 psi to 70, ±3 % above, bubbles counted',
      'Three openings in the band; then bubbles counted by set pressure and area.',
      asme,
      ug134,
      true,
    ),
  ],
  cautions: [
    caution('crack', 'Guard shut. Raise slowly; bleed and isolate between.'),
    caution('seat', 'No face near the outlet.'),
    caution('aftercare', 'Bleed before the valve is loosened.'),
  ],
  faults: [
    fault('crack', 'First opening high, the next ones right', 'It stuck', 'That is its state as found: write it down, overhaul'),
    fault('crack', 'All high or low', 'Out of adjustment', 'Adjust by licensed hands, test again'),
    fault('seat', 'A loss without bubbles at the seat', 'Manifold or fittings, and not the valve', 'Soap the manifold first'),
    fault('seat-soap', 'It bubbles', 'Seat', 'Lap or change the seat: it fails, whatever the gauge lost'),
    fault('bubbles', 'More than allowed', 'Seat', 'Lap or change the seat'),
  ],
};
