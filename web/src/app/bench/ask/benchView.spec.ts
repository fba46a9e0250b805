import { fold, foldAll } from '@grellin/core';
import { practiceRun } from '@grellin/core/practice';
import { describe, expect, it } from 'vitest';
import { is, suitRun } from '../../../testing/scriptedRun';
import { benchView } from './benchView';
import { typedNumber } from '../../form/typedNumber';

describe('what the bench shows', () => {
  const run = suitRun();

  it('one primary action at a time, in the order of the work', () => {
    const at = (last: Parameters<typeof run.upTo>[0]) => {
      const state = run.upTo(last);
      return benchView(run.plan, state, state.at);
    };
    expect(at(is({ kind: 'opened' })).primary).toMatchObject({ label: 'Identify and gather', body: { kind: 'began', stage: 'gather', attempt: 1 } });
    expect(at(is({ kind: 'began', stage: 'gather' })).primary).toEqual({ label: 'Yes', body: { kind: 'answered', item: 'serial', answer: 'yes' } });
    expect(at(is({ kind: 'began', stage: 'rig-proof' })).primary.body).toEqual({ kind: 'marked', mark: 'blank' });
    expect(at(is({ kind: 'marked', mark: 'rig-pressure' })).primary).toMatchObject({ label: 'Settling · 0:20 left', body: null });
    expect(at(is({ kind: 'sealed' })).primary.body).toBeNull();
  });

  it('shows the hold with the time left on the run’s clock, and the allowance used so far', () => {
    const started = run.events.findIndex(
      (e, i) => e.kind === 'marked' && e.mark === 'start' && run.events.slice(0, i).some(is({ kind: 'began', stage: 'inflate' })),
    );
    // The logger's chunk reaches to the end of the hold; a hundred seconds into it, half-second values are two hundred.
    const chunk = run.events[started + 1];
    if (chunk?.kind !== 'samples') throw new Error('the logger is silent');
    const state = fold(
      run.upTo((e) => e === run.events[started]),
      { ...chunk, values: chunk.values.slice(0, 200) },
    );
    const start = run.events[started]?.at ?? 0;
    const view = benchView(run.plan, state, start + 100_000);
    expect(view.next.kind).toBe('hold');
    expect(view.timer).toMatchObject({ left: '2:20', label: 'Time left in the hold' });
    expect(view.timer?.percent).toBeGreaterThanOrEqual(0);
    expect(view.gauges[0]).toMatchObject({ title: 'Suit pressure', unit: 'inH2O' });
    expect(view.place).toBe('4 of 5 · Inflate, settle and hold');
  });

  it('shows a window and whether the needle stands in it', () => {
    const state = run.upTo(is({ kind: 'marked', mark: 'connect' }));
    expect(benchView(run.plan, state, state.at).gauges[0]).toMatchObject({ window: '5 inH2O to 6 inH2O', inside: false });
  });

  it('shows the gauge of a step that is shown by one, in its own unit, with where it has to stand', () => {
    const { plan, events } = practiceRun('brakes.whole', 'single', 'air-brakes', 'none');
    const upTo = (mark: string) => {
      const last = events.findIndex((e) => e.kind === 'marked' && e.mark === mark);
      const state = foldAll(events.slice(0, last));
      return benchView(plan, state, state.at);
    };
    const engine = (mark: string) => upTo(mark).gauges.find((g) => g.channel === 'engine');
    expect(engine('engine-off')).toMatchObject({ title: 'Engine speed', unit: '/min', window: 'at most 50 /min', inside: true });
    expect(engine('engine-cut-out')).toMatchObject({ window: 'at least 600 /min', inside: true });
    expect(engine('engine-on')).toMatchObject({ window: '1000 /min to 1500 /min', inside: true });
    expect(upTo('bled').gauges[0]).toMatchObject({ channel: 'primary', window: '0 psi to 100 psi' });
  });

  it('has a key for each gauge that a thumb catches, until both are through, and says why a thing is done', () => {
    const { plan, events } = practiceRun('brakes.whole', 'fire-apparatus', 'air-brakes', 'none');
    const engine = events.findIndex(is({ kind: 'marked', mark: 'engine-idle-both' }));
    const begun = foldAll(events.slice(0, engine + 1));
    expect(benchView(plan, begun, begun.at).taps.map((t) => [t.channel, t.quantity.value])).toEqual([
      ['primary', 85],
      ['secondary', 85],
    ]);
    const through = foldAll(events.slice(0, events.findIndex(is({ kind: 'marked', mark: 'passed' }))));
    expect(benchView(plan, through, through.at).taps).toEqual([]);
    const asked = foldAll(events.slice(0, events.findIndex(is({ kind: 'answered', item: 'chocks' }))));
    expect(benchView(plan, asked, asked.at).why).toBe('Once the parking brake is off, nothing else holds it.');
  });

  it('after a failed stage says what it may be and what to try', () => {
    const leaking = suitRun('zip end');
    const state = leaking.upTo(is({ kind: 'ended', stage: 'inflate' }));
    const view = benchView(leaking.plan, state, state.at);
    expect(view.judged?.findings[0]?.verdict).toBe('fail');
    expect(view.faults.map((f) => f.sign)).toContain('Falls evenly');
    expect(view.segments.map((s) => s.state)).toEqual(['done', 'done', 'done', 'amiss', 'here', 'ahead']);
    // Where it leaks is looked for next; a suit that is tight has no such part of the way.
    expect(view.place).toBe('5 of 6 · Where does it leak?');
    const sealed = leaking.upTo(() => false);
    expect(benchView(leaking.plan, sealed, sealed.at).result).toMatchObject({ verdict: 'fail', blocks: true });
  });

  it('shows how the set-up stands, and what of it has to be put right; what is put right is done', () => {
    const { plan, events } = practiceRun('brakes.whole', 'bus-a', 'air-brakes', 'none');
    const k = events.findLastIndex(is({ kind: 'marked', mark: 'stands.chocks.in' }));
    const state = foldAll(events.slice(0, k));
    const view = benchView(plan, state, state.at);
    expect(view.setUp.map((s) => [s.id, s.asked])).toEqual([
      ['chocks', true],
      ['parking', false],
      ['engine', false],
      ['pedal', false],
      ['supplyLine', false],
      ['serviceLine', false],
    ]);
    expect(view.setUp[0]?.said).toBe('Chocks out');
    expect(view.primary).toEqual({ label: 'Done', body: { kind: 'marked', mark: 'stands.chocks.in' } });
    const after = foldAll(events.slice(0, k + 1));
    expect(benchView(plan, after, after.at).setUp[0]).toEqual({ id: 'chocks', said: 'Chocks in', asked: false });
    expect(benchView(run.plan, run.upTo(is({ kind: 'opened' })), 0).setUp).toEqual([{ id: 'supply', said: 'Supply off', asked: false }]);
  });

  it('puts the caution before the step that can hurt', () => {
    const state = run.upTo(is({ kind: 'ended', stage: 'rig-proof' }));
    expect(benchView(run.plan, state, state.at).cautions.join()).toContain('Stand clear of the visor');
  });
});

describe('a typed number', () => {
  it.each([
    ['4.02', 4.02],
    ['4,02', 4.02],
    [' 4 ', 4],
    ['−0.5', -0.5],
    ['', null],
    ['4.0.2', null],
    ['4 02', null],
    ['1e9', null],
    ['abc', null],
  ])('"%s" is %s', (text, value) => expect(typedNumber(text)).toBe(value));
});
