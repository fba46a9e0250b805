import type { Condition, Limit, OnSetUp, Parameter, Procedure, RuleSet, Source } from '../language';
import { commonPractice, fromMemory } from '../source';
import { brakeStates, combinationRoles, engineStates, neverRolls, together } from './brakeStates';
import { engineChannel, standingStill, stopped } from './engine';
import { defers, soapTime } from './parts';
import { searchAir } from './searchAir';

const cdl = fromMemory('Commercial driver licence manual', 'section 5, air brakes');
const nsc = fromMemory('Provincial air-brake manuals');

const psi = (value: number, source: Source = commonPractice): Parameter => ({ value: { value, unit: '[psi]' }, source });
const time = (value: number, unit: 's' | 'min', source: Source = commonPractice): Parameter => ({ value: { value, unit }, source });
const testedAs = (name: string): Condition => ({ attribute: 'vehicle.useAs', is: [name] });

/** A limit in psi. Without a channel, both gauges are judged. */
function within(id: string, stage: string, of: Limit['of'], op: Limit['op'], value: number, source: Source, channel?: string): Limit {
  return { id, stage, of, op, value: { value, unit: '[psi]' }, source, ...(channel === undefined ? {} : { channel }) };
}

/** The applied minute begins at the most air that the compressor brings: a leak loses less from less. One school begins at 100. */
const FULL = 115;

const parameters = (chargedLow: number, chargedHigh: number, settleS = 30, fullLow = FULL): RuleSet['parameters'] => ({
  fullLow: psi(fullLow),
  chargedLow: psi(chargedLow),
  chargedHigh: psi(chargedHigh),
  staticLow: psi(90),
  appliedLow: psi(90, cdl),
  startHigh: psi(150),
  // Air from the compressor is warm, and what a brake application leaves is cold: both move the needle until they have met the tank's walls.
  settle: time(settleS, 's'),
  minute: time(1, 'min', cdl),
  ...soapTime,
  ...standingStill,
});

/** Released only with the wheels chocked. */
const released: OnSetUp = { needs: { chocks: 'in' }, makes: { parking: 'released' } };
const charging: OnSetUp = { makes: { engine: 'on', pedal: 'up' } };

export const brakesAppliedLoss: Procedure = {
  id: 'brakes.applied-loss',
  edition: '2',
  language: 2,
  title: 'Air brakes, static and applied loss',
  verdictWords: { pass: 'tight', fail: 'leaks' },
  claims: 'tight',
  warning: `Wheels chocked before any brake is released; nobody under or between the vehicles. ${defers}`,
  sources: [cdl, nsc, commonPractice],
  states: { ...brakeStates, ...engineStates },
  never: neverRolls,
  bring: ['Wheel chocks', 'Clear, level ground', 'A helper for the pedal, or a pedal jack'],
  roles: combinationRoles,
  channels: {
    primary: { role: 'vehicle', unit: '[psi]', title: 'Primary gauge' },
    secondary: { role: 'vehicle', unit: '[psi]', title: 'Secondary gauge' },
    engine: engineChannel,
  },
  stages: [
    {
      id: 'gather',
      role: 'vehicle',
      title: 'Identify and make safe',
      attempts: 3,
      onFail: 'endRun',
      phase: 'gather',
      steps: [],
      method: {
        kind: 'check',
        items: [
          { id: 'plate', text: 'The number on the chassis plate is the one in the log', automatic: true },
          { id: 'ground', text: 'Level, clear ground; nobody under or between the vehicles' },
          { id: 'chocks', text: 'Wheels chocked, before the parking brake is released', automatic: true, makes: { chocks: 'in' } },
          { id: 'lines', text: 'Trailer lines coupled and their supply open; without a trailer: does not apply', optional: true },
        ],
      },
    },
    {
      id: 'look',
      role: 'vehicle',
      title: 'Look at lines and gauges',
      attempts: 2,
      onFail: 'endRun',
      phase: 'look',
      steps: [],
      method: {
        kind: 'check',
        items: [
          { id: 'hoses', text: 'Hoses and couplings whole: no chafe, bulge or split', automatic: true },
          { id: 'gauges', text: 'Both gauges move and agree; glass whole' },
        ],
      },
    },
    {
      id: 'static',
      role: 'vehicle',
      title: 'Static minute, brakes released',
      attempts: 3,
      onFail: 'continue',
      phase: 'test',
      steps: [
        {
          id: 'charge',
          kind: 'reach',
          channel: 'primary',
          low: 'chargedLow',
          high: 'chargedHigh',
          text: 'Run the engine until the air is charged',
          ...charging,
        },
        { id: 'engine-off', kind: 'act', text: 'Engine off, key on', ...stopped },
        { id: 'release', kind: 'act', text: 'Release the parking brake; keep off the pedal', ...together(released, { needs: { engine: 'off', pedal: 'up' } }) },
        { id: 'static-settle', kind: 'wait', s: 'settle', text: 'Let both needles come to rest', needs: { engine: 'off', pedal: 'up' } },
      ],
      method: {
        kind: 'decay',
        channels: ['primary', 'secondary'],
        hold: 'minute',
        start: { low: 'staticLow', high: 'startHigh' },
        top: 'startHigh',
        gas: { volume: 'vehicle.reservoir' },
      },
    },
    {
      id: 'applied',
      role: 'vehicle',
      title: 'Applied minute, pedal held hard',
      attempts: 3,
      onFail: 'continue',
      phase: 'test',
      steps: [
        {
          id: 'recharge',
          kind: 'reach',
          channel: 'primary',
          low: 'fullLow',
          high: 'chargedHigh',
          text: 'Charge again to its most',
          ...charging,
        },
        {
          id: 'pedal',
          kind: 'act',
          text: 'Engine off, key on, parking brake released; press the pedal hard and keep it there',
          ...stopped,
          ...together(released, stopped, { makes: { pedal: 'down' } }),
        },
        { id: 'applied-settle', kind: 'wait', s: 'settle', text: 'Hold the pedal; let both needles come to rest', needs: { engine: 'off', pedal: 'down' } },
      ],
      method: {
        kind: 'decay',
        channels: ['primary', 'secondary'],
        hold: 'minute',
        start: { low: 'appliedLow', high: 'startHigh' },
        top: 'startHigh',
        firstDropAfter: 'pedal',
        gas: { volume: 'vehicle.reservoir' },
      },
    },
    searchAir,
    {
      id: 'aftercare',
      role: 'vehicle',
      title: 'Leave it safe',
      attempts: 3,
      onFail: 'continue',
      phase: 'aftercare',
      steps: [],
      method: {
        kind: 'check',
        items: [
          { id: 'park', text: 'Parking brake set, then the pedal let up', makes: { parking: 'set', pedal: 'up' } },
          { id: 'chocks-out', needs: { parking: 'set' }, makes: { chocks: 'out' }, text: 'Chocks out and stowed, or left in and the vehicle tagged' },
          { id: 'log', text: 'Log written; both gauge readings noted' },
        ],
      },
    },
  ],
  ruleSets: [
    {
      id: 'single',
      title: 'Single vehicle, general',
      edition: '1',
      note: 'Static: less than 2 psi in the minute. Applied: no more than 3. The primary gauge is judged, both are recorded.',
      suits: testedAs('single'),
      order: ['static', 'applied'],
      skip: [],
      parameters: parameters(120, 140),
      limits: [within('single.static', 'static', 'loss', '<', 2, cdl, 'primary'), within('single.applied', 'applied', 'loss', '<=', 3, cdl, 'primary')],
      decision: { kind: 'simple' },
    },
    {
      id: 'combination',
      title: 'Combination, general',
      edition: '1',
      note: 'Static: less than 3 psi in the minute. Applied: no more than 4. The primary gauge is judged, both are recorded.',
      suits: testedAs('combination'),
      order: ['static', 'applied'],
      skip: [],
      parameters: parameters(100, 140),
      limits: [
        within('combination.static', 'static', 'loss', '<', 3, cdl, 'primary'),
        within('combination.applied', 'applied', 'loss', '<=', 4, cdl, 'primary'),
      ],
      decision: { kind: 'simple' },
    },
    {
      id: 'bus-a',
      title: 'Bus, order A',
      edition: '1',
      note: 'Static minute first, no more than 2 psi; then the applied minute, no more than 3.',
      suits: testedAs('bus A'),
      order: ['static', 'applied'],
      skip: [],
      parameters: parameters(100, 140, 30, 100),
      limits: [
        within('bus-a.static', 'static', 'loss', '<=', 2, commonPractice, 'primary'),
        within('bus-a.applied', 'applied', 'loss', '<=', 3, commonPractice, 'primary'),
      ],
      decision: { kind: 'simple' },
    },
    {
      id: 'bus-b',
      title: 'Bus, order B',
      edition: '1',
      note: 'The applied minute alone, with its first drop judged: no more than 15 psi at once, then no more than 3 in the minute.',
      suits: testedAs('bus B'),
      order: ['applied'],
      skip: ['static'],
      parameters: parameters(100, 140),
      limits: [
        within('bus-b.first', 'applied', 'firstDrop', '<=', 15, commonPractice, 'primary'),
        within('bus-b.applied', 'applied', 'loss', '<=', 3, commonPractice, 'primary'),
      ],
      decision: { kind: 'simple' },
    },
    {
      id: 'fire-apparatus',
      title: 'Fire apparatus',
      edition: '1',
      note: 'The applied minute alone, no more than 3 psi on either gauge.',
      suits: testedAs('fire apparatus'),
      order: ['applied'],
      skip: ['static'],
      parameters: parameters(100, 140),
      limits: [within('fire.applied', 'applied', 'loss', '<=', 3, commonPractice)],
      decision: { kind: 'simple' },
    },
    {
      id: 'build-from-low',
      title: 'Build from low',
      edition: '1',
      note: 'The minute runs from the pedal, but the start is read when the needle stops: the application drop is no loss. 3, 4 or 6 psi for one, two or three units.',
      suits: testedAs('build from low'),
      order: ['applied'],
      skip: ['static'],
      holdFrom: { applied: 'pedal' },
      prompts: [{ stage: 'applied', every: { value: 30, unit: 's' }, text: 'Tap the glass', byEye: true, source: nsc }],
      // Where the minute runs from the pedal, a long settling would eat it up.
      parameters: parameters(100, 135, 10),
      limits: [
        {
          id: 'low.applied',
          stage: 'applied',
          of: 'loss',
          channel: 'primary',
          op: '<=',
          value: {
            rows: [
              { when: { attribute: 'vehicle.units', below: { value: 2, unit: '1' } }, value: { value: 3, unit: '[psi]' } },
              { when: { attribute: 'vehicle.units', below: { value: 3, unit: '1' } }, value: { value: 4, unit: '[psi]' } },
              { when: { attribute: 'vehicle.units', below: { value: 4, unit: '1' } }, value: { value: 6, unit: '[psi]' } },
            ],
          },
          source: nsc,
        },
      ],
      decision: { kind: 'simple' },
    },
  ],
  cautions: [
    { before: 'static', text: 'Chocks first. Once the parking brake is off, only they hold the vehicle.' },
    { before: 'applied', text: 'Nobody near brake chambers or push-rods while the pedal is down.' },
    { before: 'aftercare', text: 'Set the parking brake before you let the pedal up or take a chock out.' },
  ],
  faults: [
    { stage: 'find', sign: 'It bubbles', cause: 'That drain, joint, valve or chamber', next: 'Out of use until it is mended; a retest after it' },
    {
      stage: 'static',
      sign: 'Falls with the brakes released',
      cause: 'Tank drain, line, coupling or parking-brake circuit',
      next: 'Listen and soap along the supply lines, drains first',
    },
    {
      stage: 'static',
      sign: 'One gauge falls, the other stands',
      cause: 'Leak in that circuit alone',
      next: 'Follow that circuit; check the protection valve holds',
    },
    {
      stage: 'applied',
      sign: 'Stands when released, falls when applied',
      cause: 'A chamber diaphragm, service hose or foot valve',
      next: 'Second person on the pedal: listen at each chamber in turn',
    },
    {
      stage: 'applied',
      sign: 'Large first drop, then steady',
      cause: 'Long push-rod strokes or much water in the tanks',
      next: 'Measure the strokes; drain the tanks',
    },
    {
      stage: 'applied',
      sign: 'Rises after the pedal goes down',
      cause: 'Gas re-warming after the fast drop',
      next: 'Let the needle stand longer, then start the minute',
    },
  ],
};
