import type { PositionedEvent, RunView } from '@grellin/contract';
import { procedureById, readingsOf } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { suitRun } from '../../../testing/scriptedRun';
import { BenchActions, benchFeature, OutboxActions, StreamActions, type BenchState } from './benchStore';

const run = suitRun();
const positioned = (events: typeof run.events, late = false): PositionedEvent[] => events.map((event, i) => ({ seq: i + 1, lease: 1, late, event }));
const view = { id: 'r', lease: 1, document: procedureById('suit.inflation'), instruments: { suit: { streams: true } }, closed: false } as unknown as RunView;
const after = (...actions: Parameters<typeof benchFeature.reducer>[1][]): BenchState =>
  actions.reduce((state, action) => benchFeature.reducer(state, action), benchFeature.reducer(undefined, { type: 'none' }));
const opened = [BenchActions.opened({ id: 'r' }), BenchActions.runArrived({ view })] as const;
const arrive = (events: PositionedEvent[], lease = 1) => StreamActions.arrived({ run: 'r', lease, closed: false, events });

describe('the bench’s state', () => {
  it('folds what the server stored with the core’s reducer', () => {
    const state = after(...opened, arrive(positioned(run.events)));
    expect(state.run.sealed).toBe(true);
    expect(state.plan?.ruleSet.id).toBe('in-h2o-4');
    expect(state.seq).toBe(run.events.length);
  });

  it('takes in nothing of the run that stood on the bench before', () => {
    const other = BenchActions.opened({ id: 'other' });
    const late = after(...opened, arrive(positioned(run.events)), other, arrive(positioned(run.events)));
    expect([late.id, late.seq, late.plan, late.streaming]).toEqual(['other', 0, null, false]);
    expect(late.run.opened).toBeNull();
  });

  it('counts an event that was said here and comes back from the server once', () => {
    const [first, second] = run.events;
    if (!first || !second) throw new Error('no events');
    const state = after(
      ...opened,
      arrive(positioned([first])),
      OutboxActions.queued({ event: second }),
      arrive([{ seq: 2, lease: 1, late: false, event: second }]),
      OutboxActions.sent({ ids: [second.id] }),
    );
    expect(second.kind).toBe('samples');
    expect(readingsOf(state.run, 'suit').length).toBe(second.kind === 'samples' ? second.values.length : 0);
    expect(state.waiting).toEqual([]);
  });

  it('never folds in what came late', () => {
    const [first, ...rest] = run.events;
    if (!first) throw new Error('no events');
    const state = after(...opened, arrive([...positioned([first]), ...positioned(rest, true)]));
    expect(state.run.history?.length).toBe(1);
  });

  it('takes off what was drawn ahead when the server refuses it', () => {
    const [first, second] = run.events;
    if (!first || !second) throw new Error('no events');
    const state = after(
      ...opened,
      arrive(positioned([first])),
      OutboxActions.queued({ event: second }),
      OutboxActions.serverRefused({ problem: { code: 'run.refused', message: 'no' } }),
    );
    expect(state).toMatchObject({ seq: 0, waiting: [], refusal: 'no' });
    expect(state.run.history).toBeNull();
  });

  it('knows whether this tab may say anything', () => {
    const mine = (s: BenchState): boolean => benchFeature.selectMine({ bench: s });
    const held = BenchActions.leaseFound({ held: { lease: 1, secret: 's', source: 'bench:a' }, elsewhere: false });
    expect(mine(after(...opened))).toBe(false);
    expect(mine(after(...opened, held))).toBe(true);
    expect(mine(after(...opened, held, arrive([], 2)))).toBe(false);
    // A message from before the taking over that comes after it.
    expect(mine(after(...opened, held, arrive([], 0)))).toBe(true);
    expect(mine(after(...opened, BenchActions.leaseFound({ held: null, elsewhere: true })))).toBe(false);
    // Taken over while the browser still looked for a lease of its own: what it did not find then takes nothing away.
    for (const late of [
      { held: null, elsewhere: false },
      { held: null, elsewhere: true },
      { held: { lease: 0, secret: 'o', source: 'bench:old' }, elsewhere: false },
    ])
      expect(mine(after(...opened, held, BenchActions.leaseFound(late)))).toBe(true);
  });

  it('derives the run’s clock from the instrument where one streams, else from the tick and the server’s offset', () => {
    const now = (s: BenchState): number => benchFeature.selectNow({ bench: s });
    const [first] = run.events;
    if (!first) throw new Error('no events');
    const streaming = after(...opened, arrive(positioned(run.events)));
    expect(now(streaming)).toBe(streaming.run.at);
    const typed = { ...view, instruments: { suit: { streams: false } } } as unknown as RunView;
    const synced = after(
      BenchActions.opened({ id: 'r' }),
      BenchActions.runArrived({ view: typed }),
      arrive(positioned([first])),
      BenchActions.clockSynced({ sync: { offsetMs: -250, halfTripMs: 4 } }),
      BenchActions.ticked({ tickMs: 61_250 }),
    );
    expect(now(synced)).toBe(61_000);
  });
});
