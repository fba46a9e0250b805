import type { Procedure, RuleSet } from '../language';
import { commonPractice } from '../source';
import { seconds, act, caution, defers, fault, figure, is, item, limit, look, of, reach, test } from './parts';

const rules = (id: string, title: string, note: string, worst: number): RuleSet => ({
  id,
  title,
  edition: '1',
  note,
  suits: is('suit.school', id),
  order: 'free',
  skip: ['inflate-by-hand', 'firm'],
  parameters: { firmLow: figure(of(8, 'mbar')), firmHigh: figure(of(25, 'mbar')), soapEach: seconds(5) },
  limits: [limit(`${id}.soap`, 'soap', 'grade', '<=', of(worst, '1'))],
  decision: { kind: 'simple' },
});

export const drySuitSurvey: Procedure = {
  id: 'drysuit.survey',
  edition: '2',
  language: 2,
  title: 'Dry suit, soaped under pressure',
  verdictWords: { pass: 'dry', fail: 'leaks' },
  claims: 'tight',
  warning: defers,
  sources: [commonPractice],
  roles: { suit: { classes: ['dry-suit'] } },
  channels: { suit: { role: 'suit', unit: 'mbar', title: 'Suit pressure' } },
  bring: ['Tapered plugs for neck and cuffs', 'Soap solution, brush, marker', 'A lamp for the inside'],
  stages: [
    look('gather', 'suit', 'Identify', 'gather', [
      item('serial', 'The serial is the one in the log', { automatic: true }),
      item('bystanders', 'Bystanders told: seams can open with a bang'),
    ]),
    look('look', 'suit', 'Look before stretching', 'look', [
      item('seals', 'Neck and cuff seals: no nick, no tacky place, looked at before they are stretched', { automatic: true }),
      item('valves', 'Inlet and exhaust valve more than finger tight'),
      item('zip', 'Zip shut to its end'),
      item('dump', 'Automatic dump closed'),
    ]),
    test(
      'soap',
      'suit',
      'Soap it from head to toe',
      [
        act('plug', 'Plugs in, a little larger than the seal, never far'),
        reach('inflate', 'suit', 'firmLow', 'firmHigh', 'Inflate until it springs back, not drum-tight'),
        act('inflate-by-hand', 'Inflate until it springs back, not drum-tight'),
      ],
      {
        kind: 'survey',
        outline: 'dry-suit',
        each: 'soapEach',
        route: [
          { id: 'neck', text: 'Neck seal and its joint' },
          { id: 'shoulders', text: 'Shoulders, front' },
          { id: 'zip', text: 'Zip, along both tapes' },
          { id: 'valves', text: 'Inlet and exhaust valve' },
          { id: 'sleeves', text: 'Sleeves and cuff seals' },
          { id: 'body-front', text: 'Body, front: seams and panels' },
          { id: 'crotch', text: 'Crotch seams' },
          { id: 'legs', text: 'Legs' },
          { id: 'feet', text: 'Socks or boots and their joint' },
          { id: 'back', text: 'The whole back, head to toe' },
        ],
      },
    ),
    test('firm', 'suit', 'Still firm', [], {
      kind: 'check',
      items: [item('springs-back', 'Pressed, it springs back as it did before the first place was soaped', { feels: true, for: 'press' })],
    }),
    look('aftercare', 'suit', 'Put it back as it was', 'aftercare', [
      item('let-down', 'Let down slowly; every plug out, counted'),
      item('marks', 'Every leak marked and listed'),
      item('dry', 'Rinsed, dried inside and out, zip waxed and open'),
    ]),
  ],
  ruleSets: [
    rules(
      'general',
      'A stream is a leak',
      'A few bubbles just after spraying are normal; a stream, or one that grows when more air is pressed in, is a leak.',
      1,
    ),
    rules('strict', 'Any bubble is a leak', 'The strict school: any bubble is a leak.', 0),
    {
      id: 'by-feel',
      title: 'No gauge: it springs back',
      edition: '1',
      note: 'As most are tested: inflated until it springs back when pressed, soaped place by place, and pressed again at the end. A stream is a leak.',
      order: 'free',
      skip: ['inflate'],
      parameters: { soapEach: seconds(5), press: seconds(5) },
      limits: [limit('by-feel.soap', 'soap', 'grade', '<=', of(1, '1'))],
      decision: { kind: 'simple' },
      byFeel: {
        finds: 'what bubbles under soap while the suit springs back, and what lets it go soft meanwhile',
        misses: 'a leak that shows only at the pressure of a deep dive, or in a place that was not soaped',
      },
    },
  ],
  cautions: [
    caution('soap', 'Never over the top: a seam can open. Never stretch a seal far: it tears later, in the water.'),
    caution('aftercare', 'Let it down before a plug is pulled.'),
  ],
  faults: [
    fault('soap', 'A stream at one place', 'Pinhole, seam or valve seat', 'Mark it and go on: there may be more'),
    fault('soap', 'Wet inside, and no bubbles near', 'Water comes in at one place and shows at another', 'A lamp inside shows a pinhole'),
    fault('firm', 'It has gone soft', 'A cuff, the neck, or a leak that no soap has shown', 'Plugs first; then soap again, air added'),
    fault('soap', 'It leaks in use, when the head turns', 'The neck seal, and not the suit', 'Try another neck seal before patching'),
  ],
};
