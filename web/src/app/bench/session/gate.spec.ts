import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { fold, type EventBody, type RunState } from '@grellin/core';
import { practiceRun } from '@grellin/core/practice';
import { describe, expect, it } from 'vitest';
import { suitRun } from '../../../testing/scriptedRun';
import { benchFeature, type BenchState } from './benchStore';
import { gateOf } from './gate';
import { trimmed } from '../../run/trimmed';

const blank = benchFeature.reducer(undefined, { type: 'none' });

describe('the gate of the primary action', () => {
  it('opens with the reading that satisfies it, and says what lacks until then', () => {
    const { plan, upTo } = suitRun();
    const fill: EventBody = { kind: 'marked', mark: 'fill' };
    const before = upTo((e) => e.kind === 'began' && e.stage === 'hold');
    const bench = signal<BenchState>({ ...blank, plan, run: before, held: { lease: 1, secret: 's', source: 'bench:a' } });
    const filled = upTo((e) => e.kind === 'marked' && e.mark === 'fill');
    TestBed.runInInjectionContext(() => {
      const gate = gateOf(bench, signal(fill), signal(before.at));
      const said = gate();
      bench.update((b) => ({ ...b, held: null }));
      expect(gate()).toBe('This tab only looks on.');
      bench.update((b) => ({ ...b, held: { lease: 1, secret: 's', source: 'bench:a' }, run: filled }));
      expect(gate()).not.toBe('This tab only looks on.');
      expect([said, gate()].every((w) => w === null || w.length > 0)).toBe(true);
    });
  });

  const run = practiceRun('valve.relief', 'asme', 'relief-bench', 'none');
  const shutAt = run.events.findIndex((e) => e.kind === 'marked' && e.mark === 'shut-1');
  const open = run.events.slice(0, shutAt).reduce(fold, benchFeature.reducer(undefined, { type: 'none' }).run);
  const channel = Object.keys(open.chunks)[0] ?? '';
  const streamed = (from: RunState, values: number): RunState =>
    Array.from({ length: values / 40 }).reduce<RunState>(
      (s, _, i) => fold(s, { id: `more ${i}`, source: 'more', n: i + 1, at: s.at + 5, kind: 'samples', channel, everyMs: 5, unit: '[psi]', values: new Array<number>(40).fill(1) }), // prettier-ignore
      from,
    );
  const shut: EventBody = { kind: 'marked', mark: 'shut-1' };

  it('is asked once a second while a fast trace streams, and at once when something is said', () => {
    const bench = signal<BenchState>({ ...blank, plan: run.plan, run: open, held: { lease: 1, secret: 's', source: 'bench:a' }, tickMs: 1000 });
    TestBed.runInInjectionContext(() => {
      const gate = gateOf(bench, signal(shut), signal(open.at));
      const first = gate();
      const early = run.events.slice(0, run.events.findIndex((e) => e.kind === 'marked' && e.mark === 'lift-1') + 1).reduce(fold, blank.run);
      bench.update((b) => ({ ...b, run: { ...b.run, chunks: early.chunks }, tickMs: 1400 }));
      expect(gate()).toBe(first);
      bench.update((b) => ({ ...b, tickMs: 2100 }));
      expect(gate()).not.toBe(first);
    });
  });

  it('stands open before a very long trace: it is looked through when somebody presses', () => {
    const bench = signal<BenchState>({ ...blank, plan: run.plan, run: streamed(open, 60_000), held: { lease: 1, secret: 's', source: 'bench:a' } });
    TestBed.runInInjectionContext(() => expect(gateOf(bench, signal(shut), signal(0))()).toBeNull());
  });

  it('what nobody claims is let go of once a minute of the run’s clock, and not between', () => {
    const idle = streamed(run.events.slice(0, 1).reduce(fold, blank.run), 400_000);
    const sooner: RunState = { ...idle, at: idle.at - 100 };
    expect(trimmed(sooner, idle)).toBe(idle);
    expect(trimmed({ ...idle, at: 0 }, idle).chunks[channel]?.length).toBeLessThan(idle.chunks[channel]?.length ?? 0);
  });
});
