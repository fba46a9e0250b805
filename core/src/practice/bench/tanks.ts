import type { FigureTable } from '../../procedure';
import { act, aim, inH2O, q, type Bench, type Benches, filled } from './bench';

const vapour = { tank: { input: 'p1', unit: inH2O, low: -1, high: 14, resolution: 0.01, accuracy: 0.02 } } as const;
const tankFacts = {
  sinceDelivery: q(14, 'h'),
  sinceLiquidTest: q(40, 'h'),
  sinceFuelling: q(45, 'min'),
};
const tank = { capacity: q(10_000, '[gal_us]'), ullage: q(4000, '[gal_us]') };

const line = (upTo: number, hold: number, permittedLoss: number): FigureTable['lines'][number] => ({
  upTo: q(upTo, '[gal_us]'),
  gives: { hold: q(hold, 'min'), permittedLoss: q(permittedLoss, inH2O) },
});
/** An invented authority's: the demonstration keeps it too. */
export const practiceTimes: FigureTable = {
  kind: 'vapour-times',
  id: 'skarvoy-fuel-office',
  edition: '1',
  title: 'Times and permitted losses by ullage',
  source: { title: 'Skarvoy fuel office (invented, for practice)' },
  from: '2020-01-01',
  lines: [line(3000, 5, 0.3), line(10_000, 10, 0.5), line(30_000, 15, 0.7)],
};

/** Both vapour tests prove their assembly first, then fill the tank with nitrogen and let it settle. */
const vapourMoves: Bench['moves'] = {
  blind: [act('blank')],
  'assembly-up': [aim('fill')],
  pressure: [act('join')],
  ...filled('nitrogen', 'settle', 'trim'),
  'pressure:start': [{ seconds: 150 }],
  'let-down': [act('bleed')],
};

export const tanks: Benches = {
  'tank.ibc': {
    device: 'IP',
    role: 'tank',
    tag: 'TK-01',
    attributes: { volume: q(1000, 'L'), flammable: false },
    gauges: { tank: { input: 'p1', unit: 'kPa', low: -1, high: 40, resolution: 0.01, accuracy: 0.05 } },
    rig: 'ibc',
    moves: {
      'relief-out': [act('join')],
      pressurise: [aim('fill')],
      'supply-off': [{ seconds: 150 }, act('shut')],
      'pressure-on': [aim('fill')],
      aftercare: [act('bleed')],
    },
    truth: { none: 'pass', 'manhole gasket': 'fail', 'outlet valve': 'fail', 'manhole left open': 'fail', 'not gas-free': 'void' },
  },
  'tank.ibc-look': {
    device: 'PA',
    role: 'tank',
    tag: 'TK-01',
    attributes: { flammable: false },
    gauges: {},
    rig: 'article',
    moves: {},
    truth: { none: 'pass', 'relief valve stuck': 'fail' },
  },
  'tank.vapour-10': {
    device: 'VT',
    role: 'tank',
    tag: 'FT-01',
    attributes: {
      ...tankFacts,
      tanks: q(1, '1'),
      authority: practiceTimes.id,
      aboveGround: false,
      nitrogenBy: 'coupler',
      tieTest: true,
      poppets: q(2, '1'),
    },
    lists: { tanks: [tank] },
    tables: { times: practiceTimes },
    by: { 'above-ground': { aboveGround: true } },
    gauges: vapour,
    rig: 'vapour-tank',
    moves: vapourMoves,
    truth: { none: 'pass', 'cap left off': 'fail', 'vent cap': 'fail', 'drop-tube adapter': 'fail', 'assembly hose': 'void', 'sun on the vent': 'undecided' },
  },
  'tank.vapour-2': {
    device: 'VT',
    role: 'tank',
    tag: 'FT-01',
    attributes: { ...tankFacts, tanks: q(1, '1'), nozzles: q(6, '1'), recovery: 'balance', latitude: q(69.6, '1'), longitude: q(18.9, '1') },
    lists: { tanks: [tank] },
    gauges: vapour,
    rig: 'vapour-tank',
    moves: vapourMoves,
    truth: { none: 'pass', 'vent cap': 'fail', 'assembly hose': 'void' },
  },
  'tank.cargo': {
    device: 'CT',
    role: 'tank',
    tag: 'CT-01',
    attributes: { capacity: q(9000, '[gal_us]'), shell: q(9000, '[gal_us]') },
    gauges: {
      tank: { input: 'p1', unit: inH2O, low: -10, high: 25, resolution: 0.01, accuracy: 0.05 },
      header: { input: 'p2', unit: inH2O, low: -10, high: 25, resolution: 0.01, accuracy: 0.05 },
    },
    rig: 'cargo-tank',
    moves: {
      ...filled('fill', 'settle', 'trim'),
      'header-tank': [aim('fill')],
      'valve-shut': [act('isolate')],
      draw: [aim('trim')],
      'suction-settle': [aim('trim')],
      'suction-trim': [aim('trim')],
      'let-down': [act('bleed')],
    },
    truth: { none: 'pass', 'hatch gasket': 'fail', 'inside vapour valve': { annual: 'fail', 'any-time': 'pass' } },
  },
};
