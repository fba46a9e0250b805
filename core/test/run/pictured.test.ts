import { describe, expect, it } from 'vitest';
import { foldAll, judge, MOST_PICTURES, may, picturedInWords, type EventBody, type RunEvent } from '../../src';
import { sample, sampleNames } from '../testing/samples';
import { inTurn } from '../testing/turn';

const digest = (n: number): string => n.toString(16).padStart(64, '0');
const told = (n: number, more: object = {}): EventBody => ({ kind: 'pictured', picture: digest(n), shows: 'gauge', ...more });
const said = (n: number, at: number, body: EventBody, source = 'camera'): RunEvent => ({ id: `${source}${String(n)}`, source, n, at, ...body });

describe('a picture in a run', () => {
  it.each(inTurn(sampleNames, 4))('changes nothing that is found: %s', (name) => {
    const { plan, events, state } = sample(name);
    // After every word but the last, which closes it: in a hold, between two looks, while it is let down.
    const with_ = events.flatMap((e, i) => (i < events.length - 1 && i % 7 === 0 ? [e, said(i / 7 + 1, e.at, told(i))] : [e]));
    expect(judge(plan, foldAll(with_))).toEqual(judge(plan, state));
    const places = with_.filter((e) => e.kind === 'pictured').length;
    expect(foldAll(with_).pictures).toHaveLength(places);
  });

  const { plan, events } = sample('suit-inflation-pass.json');
  const began = events.findIndex((e) => e.kind === 'answered');
  const open = events.slice(0, began + 1);
  const last = open.at(-1);
  const item = last?.kind === 'answered' ? last.item : '';
  const at = last?.at ?? 0;

  it('may be told of while the run is open, of what is asked there, once each, and so many', () => {
    const state = foldAll(open);
    const code = (body: EventBody, s = state, n = 1): string | undefined => may(plan, s, said(n, at, body))?.code;
    expect(code(told(1))).toBe(undefined);
    expect(code(told(1, { item }))).toBe(undefined);
    expect(code(told(1, { item: 'of-no-stage' }))).toBe('item.notHere');
    const one = foldAll([...open, said(1, at, told(1))]);
    expect(code(told(1), one, 2)).toBe('picture.twice');
    expect(code(told(2), one, 2)).toBe(undefined);
    const many = Array.from({ length: MOST_PICTURES }, (_, i) => said(i + 1, at, told(i + 1)));
    expect(code(told(99), foldAll([...open, ...many]), MOST_PICTURES + 1)).toBe('picture.tooMany');
    expect(code(told(99), foldAll([...open, ...many.slice(1).map((e, i) => ({ ...e, n: i + 1 }))]), MOST_PICTURES)).toBe(undefined);
    expect(code(told(1), foldAll(events))).toBe('run.closed');
  });

  it('is gone from what stands when it is taken back, and its room is free again', () => {
    const state = foldAll([...open, said(1, at, told(1)), said(2, at, { kind: 'withdrawn', event: 'camera1', reason: 'blurred' })]);
    expect(state.pictures).toEqual([]);
    expect(may(plan, state, said(3, at, told(1)))).toBe(null);
  });

  it('says what it is of in words', () => {
    const text = plan.stages.flatMap((s) => ('items' in s.method ? s.method.items : [])).find((i) => i.id === item)?.text;
    expect(picturedInWords(plan, { shows: 'look', item })).toBe(`Picture of a look: ${text ?? 'nothing'}`);
    expect(picturedInWords(plan, { shows: 'plate' })).toBe('Picture of a plate');
  });
});
