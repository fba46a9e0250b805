import { describe, expect, it } from 'vitest';
import {
  catalogue,
  instrumentsOf,
  judge,
  makePlan,
  NEVER_COMES,
  procedureById,
  setUpAsked,
  unknownAttributes,
  valuesOf,
  type Attributes,
  type EventBody,
  type InstrumentCopy,
  type Procedure,
} from '../../src';
import { releasedEdition } from '../../src/procedure/released';
import { manometer, planFor } from '../testing/practiceRuns';
import { Teller } from '../testing/teller';

const inH2O = "[in_i'H2O]";
const suit = () =>
  planFor('suit.inflation', 'in-h2o-4', { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } });
const read = (value: number, channel = 'suit', unit = inH2O): EventBody => ({ kind: 'reading', channel, quantity: { value, unit } });
const mark = (name: string): EventBody => ({ kind: 'marked', mark: name });
const yes = (item: string): EventBody => ({ kind: 'answered', item, answer: 'yes' });
const no = (item: string): EventBody => ({ kind: 'answered', item, answer: 'no', reason: 'so' });

function opened(plan: ReturnType<typeof suit>, assets: Record<string, Attributes>, instruments: Record<string, InstrumentCopy>): Teller {
  const t = new Teller(plan);
  t.say(0, {
    kind: 'opened',
    startedAt: '2026-11-25T08:00:00.000Z',
    procedure: plan.digest,
    ruleSet: plan.ruleSet.id,
    assets: Object.fromEntries(Object.entries(assets).map(([role, attributes]) => [role, { id: 'X-01', attributes }])),
    instruments,
    clock: 'live',
  });
  return t;
}
/** A suit whose kit is proved, about to be filled. */
function aboutToFill(proof = 5.5, more: Record<string, InstrumentCopy> = {}): Teller {
  const t = opened(
    suit(),
    { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } },
    { suit: manometer, ...more },
  );
  t.check(1, 'gather', ['serial', 'flat', 'adapters']);
  t.check(2, 'look', ['sound', 'diaphragms', 'zip']);
  t.say(3, { kind: 'began', stage: 'rig-proof', attempt: 1 });
  t.say(4, mark('blank'));
  t.say(5, read(5.5));
  t.say(6, mark('rig-pressure'));
  t.say(26, mark('rig-settle'));
  t.say(27, read(5.5));
  t.say(28, mark('start'));
  t.say(88, read(proof));
  t.say(89, { kind: 'ended', stage: 'rig-proof', attempt: 1 });
  t.say(90, { kind: 'began', stage: 'inflate', attempt: 1 });
  t.say(91, mark('connect'));
  return t;
}
const aftercare = ['let-down-safe', 'plugs-out', 'zip-open', 'diaphragms-back', 'covers', 'stored'];
/** The same, filled, settled and held, with its end about to be read at 432 s. */
function held(): Teller {
  const t = aboutToFill();
  t.say(120, read(5.5));
  t.say(121, mark('fill'));
  t.say(181, mark('settle'));
  t.say(181, mark('full-look'));
  t.say(190, read(4.02));
  t.say(191, mark('trim'));
  t.say(192, read(4.02));
  t.say(192, mark('start'));
  return t;
}
const found = (t: Teller, stage: string) => t.result.findings.find((f) => f.stage === stage);
const code = (t: Teller, stage: string) => found(t, stage)?.reasons[0]?.code;

describe('a settling that has to end as warm inside as outside', () => {
  const thermometer: InstrumentCopy = { ...manometer, id: 'TH-01', low: { value: -20, unit: 'Cel' }, high: { value: 60, unit: 'Cel' }, resolution: { value: 0.1, unit: 'Cel' }, accuracy: { value: 0.2, unit: 'Cel' } }; // prettier-ignore
  const warm = (value: number, channel: string) => read(value, channel, 'Cel');
  const filled = (more: Record<string, InstrumentCopy>): Teller => {
    const t = aboutToFill(5.5, more);
    t.say(120, read(5.5));
    t.say(121, mark('fill'));
    return t;
  };
  const both = { inside: thermometer, outside: { ...thermometer, id: 'TH-02' } };
  it('waits for its thermometers, where they are there, and says what keeps it', () => {
    const t = filled(both);
    t.say(170, warm(22, 'inside'));
    expect(t.next).toMatchObject({ kind: 'wait', strayed: null, unlike: { code: 'noReading', values: { channel: 'outside' } } });
    t.say(171, warm(19.5, 'outside'));
    t.say(180, read(5.5));
    expect(t.refused(181, mark('settle'))).toBe('gaugesDiffer');
    expect(t.next).toMatchObject({
      kind: 'wait',
      unlike: { code: 'gaugesDiffer', values: { difference: { value: 2.5, unit: 'K' }, limit: { value: 0.5, unit: 'K' } } },
    });
    t.say(200, warm(20, 'inside'));
    expect(t.next).toMatchObject({ kind: 'wait', unlike: null });
    t.say(201, mark('settle'));
    t.say(201, mark('full-look'));
    expect(t.next).toMatchObject({ kind: 'reach', step: { id: 'trim' } });
  });
  it('and is not asked for them where there are none; one thermometer is not both', () => {
    const t = filled({});
    expect(t.next).toMatchObject({ kind: 'wait', unlike: null });
    t.say(181, mark('settle'));
    t.say(181, mark('full-look'));
    const twice = () =>
      opened(
        suit(),
        { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } },
        { suit: manometer, inside: thermometer, outside: thermometer },
      );
    expect(twice).toThrow(/instrumentTwice/);
  });
});

describe('what takes its time while the rig stands still', () => {
  const attributes = { openFaced: false, exhaustValves: { value: 4, unit: '1' }, adapters: { value: 2, unit: '1' } };
  const plan = planFor('suit.inflation', 'in-h2o-4', { suit: attributes });
  const ids = ['serial', 'flat', 'adapters', 'plug-in.1', 'plug-in.2'];
  const gathered = (moments: readonly number[], ask = true): Teller => {
    const t = opened(plan, { suit: attributes }, { suit: manometer });
    t.say(1, { kind: 'began', stage: 'gather', attempt: 1 });
    ids.forEach((id, k) => (ask ? t.say(moments[k] ?? 0, yes(id)) : t.write(moments[k] ?? 0, yes(id))));
    t.write(9, { kind: 'ended', stage: 'gather', attempt: 1 });
    return t;
  };
  it('keeps it, whatever else is said at the same moment; two of them do not share it', () => {
    expect(found(gathered([1, 1, 1, 3, 5]), 'gather')?.verdict).toBe('pass');
    expect(() => gathered([1, 1, 1, 3, 3])).toThrow(/tooSoon/);
    expect(code(gathered([1, 1, 1, 3, 3], false), 'gather')).toBe('tooSoon');
    expect(code(gathered([1, 1, 3, 3, 5], false), 'gather')).toBe('tooSoon');
    // What was said at the same moment, and is asked for after it, took nothing of its time.
    const t = opened(plan, { suit: attributes }, { suit: manometer });
    t.say(1, { kind: 'began', stage: 'gather', attempt: 1 });
    for (const id of ['serial', 'flat', 'adapters']) t.say(1, yes(id));
    t.say(3, yes('plug-in.1'));
    t.write(3, yes('plug-in.2'));
    t.write(9, { kind: 'ended', stage: 'gather', attempt: 1 });
    expect(found(t, 'gather')?.reasons.map((r) => r.values)).toEqual([expect.objectContaining({ item: expect.stringContaining('(2 of 2)') as string })]);
  });
});

describe('what never comes', () => {
  it('is a leak, with the best that was reached, once supply and set-up are in order and the kit is proved', () => {
    const t = aboutToFill();
    expect(t.refused(95, mark(NEVER_COMES))).toBe('noReading'); // what the kit showed before is nothing of this attempt
    t.say(100, read(1.2));
    t.say(130, read(2.1));
    t.say(160, read(1.9));
    t.say(161, mark(NEVER_COMES));
    expect(setUpAsked(t.plan).map((i) => i.id)).toEqual(['never-supply', 'plugs-in', 'gloves-on']);
    for (const item of setUpAsked(t.plan)) {
      expect(t.next).toMatchObject({ kind: 'answer', item: { id: item.id } });
      expect(t.refused(162, { kind: 'ended', stage: 'inflate', attempt: 1, reason: 'enough' })).toBe('check.unanswered');
      t.say(162, yes(item.id));
    }
    expect(t.next.kind).toBe('end');
    t.say(163, { kind: 'ended', stage: 'inflate', attempt: 1 });
    expect(found(t, 'inflate')).toMatchObject({
      verdict: 'fail',
      channel: 'suit',
      reasons: [{ code: 'neverReached', values: { best: { value: 2.1, unit: inH2O }, low: { value: 5, unit: inH2O } } }],
    });
    // Where it leaks may be looked for, or left to others.
    t.say(165, { kind: 'began', stage: 'find', attempt: 1 });
    t.say(166, { kind: 'ended', stage: 'find', attempt: 1, reason: 'the glove is torn, that is seen' });
    t.check(170, 'aftercare', aftercare);
    expect(t.result).toMatchObject({ verdict: 'fail', blocks: true });
  });
  it.each(['never-supply', 'gloves-on'])('tells nothing where %s is not in order, and holds the item back', (wrong) => {
    const t = aboutToFill();
    t.say(100, read(1.2));
    t.say(101, mark(NEVER_COMES));
    for (const item of setUpAsked(t.plan)) t.say(102, item.id === wrong ? no(item.id) : yes(item.id));
    t.say(103, { kind: 'ended', stage: 'inflate', attempt: 1 });
    expect([found(t, 'inflate')?.verdict, code(t, 'inflate')]).toEqual(['undecided', 'setUpWrong']);
    expect(t.result).toMatchObject({ blocks: false, holds: true });
  });
  it('is not the item’s where the kit itself leaks', () => {
    const t = aboutToFill(4.9);
    t.say(100, read(1.2));
    t.say(101, mark(NEVER_COMES));
    for (const item of setUpAsked(t.plan)) t.say(102, yes(item.id));
    t.say(103, { kind: 'ended', stage: 'inflate', attempt: 1 });
    expect(found(t, 'inflate')?.verdict).toBe('undecided');
    expect(t.result).toMatchObject({ verdict: 'void', blocks: false, holds: true });
  });
  it('cannot be said where it has come, where nothing was read, or twice', () => {
    const t = opened(suit(), { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } }, { suit: manometer });
    expect(t.refused(1, mark(NEVER_COMES))).toBe('stage.notOpen');
    const u = aboutToFill();
    u.say(120, read(5.5));
    expect(u.refused(121, mark(NEVER_COMES))).toBe('standsThere');
    u.say(122, read(4));
    u.say(123, mark(NEVER_COMES));
    expect(u.refused(124, mark(NEVER_COMES))).toBe('step.notNext');
    expect(u.refused(124, mark('fill'))).toBe('step.notNext');
  });
  it('above its window nothing is said of a leak: something warmed', () => {
    const t = aboutToFill();
    t.say(120, read(6.4));
    t.say(121, mark(NEVER_COMES));
    for (const item of setUpAsked(t.plan)) t.say(122, yes(item.id));
    t.say(123, { kind: 'ended', stage: 'inflate', attempt: 1 });
    expect([found(t, 'inflate')?.verdict, code(t, 'inflate')]).toEqual(['undecided', 'leftWindow']);
  });
});

describe('a settling is watched', () => {
  const filled = (): Teller => {
    const t = aboutToFill();
    t.say(120, read(5.5));
    t.say(121, mark('fill'));
    return t;
  };
  it('counts from when its window was reached again', () => {
    const t = filled();
    t.say(150, read(4.2));
    expect(t.refused(181, mark('settle'))).toBe('leftWindow');
    t.say(170, read(5.4));
    expect(t.refused(181, mark('settle'))).toBe('waitShort');
    expect(t.next).toMatchObject({ kind: 'wait', since: 170_000, until: 230_000 });
    t.say(200, read(5.4));
    t.say(230, mark('settle'));
    t.say(230, mark('full-look'));
  });
  it('begins anew where nobody looked for longer than a minute', () => {
    const t = filled();
    t.say(190, read(5.4));
    expect(t.refused(200, mark('settle'))).toBe('waitShort');
  });
  it('that was topped up too often is never over; kept from its window it is a leak', () => {
    const t = filled();
    for (let i = 0; i < 11; i++) {
      t.say(125 + 4 * i, read(4.8));
      t.say(127 + 4 * i, read(5.4));
    }
    expect(t.refused(240, mark('settle'))).toBe('keptLeaving');
    t.say(241, mark(NEVER_COMES));
    for (const item of setUpAsked(t.plan)) t.say(242, yes(item.id));
    t.say(243, { kind: 'ended', stage: 'inflate', attempt: 1 });
    expect(found(t, 'inflate')).toMatchObject({ verdict: 'fail', reasons: [{ code: 'neverReached', values: { best: { value: 4.8 } } }] });
  });
});

describe('what was seen stays seen', () => {
  it('a failing reading that is taken back is no pass, and the item is not used on it', () => {
    const t = held();
    const end = t.say(432, read(2.9));
    expect(t.result.blocks).toBe(true);
    t.say(433, { kind: 'withdrawn', event: end, reason: 'I misread it' });
    t.say(434, read(3.9));
    t.say(435, { kind: 'ended', stage: 'inflate', attempt: 1 });
    t.check(440, 'aftercare', aftercare);
    expect(t.result).toMatchObject({ verdict: 'undecided', blocks: true, holds: true });
    expect(t.result.findings.map((f) => f.reasons[0]?.code)).toContain('takenBack');
    // The same in a document from before these rules is read as it was.
    const old = planFor(
      'suit.inflation',
      'in-h2o-4',
      { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } },
      releasedEdition('suit.inflation', '1'),
    );
    expect(judge(old, t.state).verdict).toBe('pass');
  });
  it('a reading that changes nothing may be taken back', () => {
    const t = held();
    const half = t.say(300, read(4.5));
    t.say(301, { kind: 'withdrawn', event: half, reason: 'a slip' });
    t.say(432, read(3.9));
    t.say(433, { kind: 'ended', stage: 'inflate', attempt: 1 });
    t.check(440, 'aftercare', aftercare);
    expect(t.result).toMatchObject({ verdict: 'pass', blocks: false, holds: false });
  });
  it('a no that ends the test is not turned into a yes; another is, once it is mended', () => {
    const t = opened(suit(), { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } }, { suit: manometer });
    t.say(1, { kind: 'began', stage: 'gather', attempt: 1 });
    t.say(2, no('serial'));
    t.say(3, yes('serial'));
    for (const item of ['flat', 'adapters']) t.say(4, yes(item));
    t.say(5, { kind: 'ended', stage: 'gather', attempt: 1 });
    expect(found(t, 'gather')?.verdict).toBe('void');
    const u = opened(suit(), { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } }, { suit: manometer });
    u.say(1, { kind: 'began', stage: 'gather', attempt: 1 });
    for (const item of ['serial', 'flat']) u.say(2, yes(item));
    u.say(2, no('adapters'));
    u.say(3, yes('adapters'));
    u.say(5, { kind: 'ended', stage: 'gather', attempt: 1 });
    expect(found(u, 'gather')?.verdict).toBe('pass');
  });
  it('an attempt that failed stays in the verdict, whatever a file says came after it', () => {
    const t = held();
    t.say(432, read(2.9));
    t.say(433, { kind: 'ended', stage: 'inflate', attempt: 1 });
    expect(t.refused(434, { kind: 'began', stage: 'inflate', attempt: 2, reason: 'again' })).toBe('stage.failed');
    t.write(434, { kind: 'began', stage: 'inflate', attempt: 2, reason: 'again' });
    for (const [at, body] of [
      [435, mark('connect')],
      [440, read(5.5)],
      [441, mark('fill')],
      [501, mark('settle')],
      [501, mark('full-look')],
      [510, read(4.02)],
      [511, mark('trim')],
      [512, read(4.02)],
      [512, mark('start')],
      [752, read(3.9)],
      [753, { kind: 'ended', stage: 'inflate', attempt: 2 }],
    ] as const)
      t.write(at, body);
    t.check(760, 'aftercare', aftercare);
    expect(t.result).toMatchObject({ verdict: 'fail', blocks: true });
    expect(t.result.earlier.map((f) => f.verdict)).toEqual(['fail']);
  });
  it('a place that bubbled stays a leak, however it is graded afterwards, and no place is dry in a second', () => {
    const facts = { set: { filling: { value: 300, unit: 'bar' } } };
    const dial: InstrumentCopy = { ...manometer, high: { value: 400, unit: 'bar' }, low: { value: 0, unit: 'bar' }, resolution: { value: 10, unit: 'bar' }, accuracy: { value: 6, unit: 'bar' } }; // prettier-ignore
    const plan = planFor('ba.soap-survey', 'general', facts);
    const t = opened(plan, facts, { cylinder: dial });
    t.check(1, 'gather', ['serial', 'full']);
    t.say(2, { kind: 'began', stage: 'contents', attempt: 1 });
    t.say(2, mark('open'));
    t.say(2, read(300, 'cylinder', 'bar'));
    t.say(2, mark('contents-read'));
    t.say(2, { kind: 'ended', stage: 'contents', attempt: 1 });
    t.say(2, { kind: 'began', stage: 'soap', attempt: 1 });
    t.say(3, mark('soap-on'));
    const spot = (id: string, grade: 'none' | 'stream'): EventBody => ({ kind: 'spotted', spot: id, grade });
    expect(t.refused(4, spot('regulator', 'none'))).toBe('tooSoon');
    expect(t.refused(4, { kind: 'spotted', spot: 'regulator', grade: 'fewAtFirst' })).toBe('tooSoon');
    t.say(4, spot('regulator', 'stream')); // what streams needs no time
    t.say(5, spot('regulator', 'none'));
    const rest = ['low-pressure-hose', 'hand-wheel', 'reducer', 'manifold', 'hose-back', 'gauge-line', 'alarm-cover'];
    rest.forEach((id, i) => t.say(9 + 5 * i, spot(id, 'none')));
    t.say(60, { kind: 'ended', stage: 'soap', attempt: 1 });
    expect([found(t, 'soap')?.verdict, code(t, 'soap')]).toEqual(['fail', 'bubbles']);
    // A file that nobody was asked about is judged by the same rule.
    const hurried = opened(plan, facts, { cylinder: dial });
    hurried.check(1, 'gather', ['serial', 'full']);
    hurried.say(2, { kind: 'began', stage: 'contents', attempt: 1 });
    hurried.say(2, mark('open'));
    hurried.say(2, read(300, 'cylinder', 'bar'));
    hurried.say(2, mark('contents-read'));
    hurried.say(2, { kind: 'ended', stage: 'contents', attempt: 1 });
    hurried.say(2, { kind: 'began', stage: 'soap', attempt: 1 });
    hurried.say(3, mark('soap-on'));
    ['regulator', ...rest].forEach((id, i) => hurried.write(4 + i, spot(id, 'none')));
    hurried.say(20, { kind: 'ended', stage: 'soap', attempt: 1 });
    expect([found(hurried, 'soap')?.verdict, code(hurried, 'soap')]).toEqual(['void', 'tooSoon']);
  });
});

describe('the answer is read off the gauge', () => {
  /** A document with one look, whose items a gauge would answer. */
  const document: Procedure = {
    ...(procedureById('anaes.circle') as Procedure),
    channels: {
      a: { role: 'circuit', unit: 'bar', title: 'Gauge A', optional: true },
      b: { role: 'circuit', unit: 'bar', title: 'Gauge B', optional: true },
    },
    stages: [
      {
        id: 'look',
        role: 'circuit',
        title: 'Look',
        attempts: 1,
        onFail: 'continue',
        phase: 'test',
        steps: [],
        method: {
          kind: 'check',
          items: [
            { id: 'agree', text: 'They agree', shown: { agree: ['a', 'b'], within: 'within' } },
            { id: 'zone', text: 'Full', shown: { channel: 'a', low: 'full' } },
            { id: 'bled', text: 'Nothing left', shown: { channel: 'a', high: 'nothing', after: 'full' } },
            { id: 'taut', text: 'Taut', for: 'ten' },
          ],
        },
      },
    ],
    ruleSets: [
      {
        title: 'One',
        edition: '1',
        note: '',
        order: 'free',
        decision: { kind: 'simple' },
        id: 'r',
        skip: [],
        limits: [],
        parameters: Object.fromEntries(
          (
            [
              ['within', 10, 'bar'],
              ['full', 270, 'bar'],
              ['nothing', 2, 'bar'],
              ['ten', 10, 's'],
            ] as const
          ).map(([id, value, unit]) => [id, { value: { value, unit }, source: { title: 'common practice' } }]),
        ),
      },
    ],
  };
  const gauge: InstrumentCopy = { ...manometer, low: { value: 0, unit: 'bar' }, high: { value: 400, unit: 'bar' }, resolution: { value: 5, unit: 'bar' }, accuracy: { value: 5, unit: 'bar' } }; // prettier-ignore
  const at = (channels: readonly string[]): Teller => {
    const made = makePlan(document, '0'.repeat(64), 'r', { circuit: { layout: 'circle' } });
    if (!made.ok) throw new Error(JSON.stringify(made.refusal));
    const t = opened(made.plan, { circuit: { layout: 'circle' } }, Object.fromEntries(channels.map((c) => [c, { ...gauge, id: `G-${c}` }])));
    t.say(1, { kind: 'began', stage: 'look', attempt: 1 });
    return t;
  };
  const bar = (channel: string, value: number): EventBody => read(value, channel, 'bar');

  it('a yes that the gauges do not show is refused, with what they show; a no is taken', () => {
    const t = at(['a', 'b']);
    expect(t.refused(2, yes('agree'))).toBe('noReading');
    t.say(2, bar('a', 290));
    t.say(2, bar('b', 270));
    expect(t.refused(3, yes('agree'))).toBe('gaugesDiffer');
    t.say(4, bar('b', 285));
    t.say(5, yes('agree'));
    t.say(5, yes('zone'));
    expect(t.refused(6, yes('bled'))).toBe('shownOtherwise');
    t.say(40, bar('a', 0));
    t.say(41, yes('bled'));
    expect(t.refused(45, yes('taut'))).toBe('tooSoon');
    t.say(51, yes('taut'));
    t.say(52, { kind: 'ended', stage: 'look', attempt: 1 });
    expect(found(t, 'look')).toMatchObject({ verdict: 'pass', reasons: [{ code: 'answeredAll' }] });
  });
  it('the same said in a file fails; said in time, or of a gauge that never showed anything, it is no test', () => {
    const contrary = at(['a', 'b']);
    contrary.say(2, bar('a', 200));
    contrary.say(2, bar('b', 200));
    contrary.write(3, yes('agree'));
    contrary.write(3, yes('zone'));
    expect([found(contrary, 'look')?.verdict, code(contrary, 'look')]).toEqual(['fail', 'shownOtherwise']);
    const never = at(['a']);
    never.say(2, bar('a', 0));
    expect(never.refused(3, yes('bled'))).toBe('neverShown');
    for (const item of ['agree', 'bled']) never.write(3, yes(item));
    expect([found(never, 'look')?.verdict, code(never, 'look')]).toEqual(['void', 'neverShown']);
  });
  it('where no gauge is fitted the person answers, and the finding says that nothing was measured', () => {
    const t = at([]);
    for (const item of ['agree', 'zone', 'bled']) t.say(2, yes(item));
    t.say(12, yes('taut'));
    t.say(13, { kind: 'ended', stage: 'look', attempt: 1 });
    expect(found(t, 'look')).toMatchObject({
      verdict: 'pass',
      reasons: [{ code: 'answeredAll' }, { code: 'notMeasured', values: { items: 'They agree; Full; Nothing left' } }],
    });
  });
  it('nobody types beside an instrument that sends its readings, and one gauge cannot stand for two', () => {
    const t = at(['a']);
    t.write(2, { kind: 'samples', channel: 'a', unit: 'bar', everyMs: 500, values: [290, 290] });
    expect(t.refused(4, bar('a', 300))).toBe('reading.streams');
    const made = makePlan(document, '0'.repeat(64), 'r', { circuit: { layout: 'circle' } });
    if (!made.ok) throw new Error();
    const { procedure, ruleSet } = { procedure: made.plan.digest, ruleSet: 'r' };
    const both: EventBody = {
      kind: 'opened',
      startedAt: '2026-11-25T08:00:00.000Z',
      procedure,
      ruleSet,
      assets: {},
      instruments: { a: gauge, b: gauge },
      clock: 'live',
    };
    expect(new Teller(made.plan).refused(0, both)).toBe('run.instrumentTwice');
  });
});

describe('a start', () => {
  it('is read after the last step: what stood there before the air had settled is no start', () => {
    const facts = { tank: { volume: { value: 1, unit: 'm3' }, school: 'un', flammable: false } };
    const plan = planFor('tank.ibc', 'un', facts);
    const wide: InstrumentCopy = { ...manometer, high: { value: 60, unit: 'kPa' }, low: { value: 0, unit: 'kPa' }, resolution: { value: 0.01, unit: 'kPa' }, accuracy: { value: 0.02, unit: 'kPa' } }; // prettier-ignore
    const t = opened(plan, facts, { tank: wide });
    for (const stage of ['gather', 'outside', 'inside']) {
      t.say(1, { kind: 'began', stage, attempt: 1 });
      for (let n = t.next; n.kind === 'answer'; n = t.next) t.say(1, yes(n.item.id));
      t.say(1, { kind: 'ended', stage, attempt: 1 });
    }
    t.say(2, { kind: 'began', stage: 'hold', attempt: 1 });
    t.say(3, mark('relief-out'));
    t.say(4, read(21, 'tank', 'kPa'));
    t.say(5, mark('pressurise'));
    t.say(6, mark('supply-off'));
    t.say(110, read(20.9, 'tank', 'kPa'));
    t.say(126, mark('settle'));
    expect(t.refused(127, mark('start'))).toBe('noReading');
    t.say(128, read(20.8, 'tank', 'kPa'));
    expect(t.refused(129, mark('start'))).toBeNull();
  });
});

describe('nothing unknown is skipped', () => {
  const circle = procedureById('suit.inflation') as Procedure;
  it('a plan that hangs on what nobody has said is refused by name; a known no decides', () => {
    const made = makePlan(circle, '0'.repeat(64), 'in-h2o-4', { suit: {} });
    expect(made).toEqual({ ok: false, refusal: { code: 'plan.attributeUnknown', values: { attributes: 'suit.openFaced suit.exhaustValves suit.adapters' } } });
    expect(
      makePlan(circle, '0'.repeat(64), 'in-h2o-4', { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } })
        .ok,
    ).toBe(true);
  });
  it('asks for nothing that a rule set leaves out, and knows what there is to choose from', () => {
    for (const p of catalogue)
      for (const r of p.ruleSets)
        for (const ref of unknownAttributes(p, r, {}))
          expect([...Object.keys(p.roles), ...Object.keys(p.lists ?? {})], `${p.id} ${r.id} ${ref}`).toContain(ref.split('.')[0]);
    expect(valuesOf(procedureById('anaes.machine') as Procedure, 'machine.outletCheckValve')).toEqual([]);
    expect(valuesOf(circle, 'suit.buildStandard')).toContain('EN 943-1');
  });
  it('every document of the catalogue is of the second rules; every one of the first stays in the program', () => {
    for (const p of catalogue) {
      expect(p.language).toBe(2);
      // What came with the second rules has no edition before them.
      if (p.edition === '2') expect(releasedEdition(p.id, '1')).toMatchObject({ id: p.id, edition: '1' });
      else expect(['anaes.automatic', 'brakes.in-cab', 'brakes.strokes', 'tank.ibc-look']).toContain(p.id);
    }
    expect(instrumentsOf(held().state)['suit']?.inCalibration).toBe(true);
  });
});
