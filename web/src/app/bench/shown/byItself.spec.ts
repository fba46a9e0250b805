import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { EventBody } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { BenchRun } from './benchRun';
import { goesOnByItself } from './byItself';

describe('what needs nobody', () => {
  it('is said once for each attempt and each run, and again when a stage is done anew or another run stands there', () => {
    const said: EventBody[] = [];
    const wait = (attempt: number) => ({
      next: { kind: 'wait', stage: { id: 'hold' }, attempt, step: { id: 'settle' }, strayed: null, unlike: null, until: 100 },
    });
    const view = signal<unknown>(wait(1));
    const bench = signal({ id: 'one' });
    const now = signal(0);
    TestBed.configureTestingModule({
      providers: [{ provide: BenchRun, useValue: { view, now, bench, works: () => true, refusal: () => null, say: (body: EventBody) => said.push(body) } }],
    });
    TestBed.runInInjectionContext(goesOnByItself);
    TestBed.tick();
    expect(said).toEqual([]);
    for (const at of [100, 250, 500]) {
      now.set(at);
      TestBed.tick();
    }
    expect(said).toEqual([{ kind: 'marked', mark: 'settle' }]);
    view.set(wait(2));
    TestBed.tick();
    expect(said).toHaveLength(2);
    bench.set({ id: 'two' });
    TestBed.tick();
    expect(said).toHaveLength(3);
  });

  it('begins a stage of a round where it may, and none of a run by itself, nor what a rig’s hand is wanted for first', () => {
    const said: EventBody[] = [];
    const begin = (stage: string, flows: boolean) => ({ flows, next: { kind: 'begin', stage: { id: stage }, attempt: 1 } });
    const view = signal<unknown>(begin('look', true));
    const bench = signal<unknown>({ id: 'one', view: { round: null, clock: 'live', procedure: 'suit.inflation' } });
    const works = signal(true);
    TestBed.configureTestingModule({
      providers: [{ provide: BenchRun, useValue: { view, now: signal(0), bench, works, refusal: () => null, say: (body: EventBody) => said.push(body) } }],
    });
    TestBed.runInInjectionContext(goesOnByItself);
    TestBed.tick();
    expect(said).toEqual([]);
    const inRound = (clock: string) => ({ id: 'two', view: { round: 'b1', clock, procedure: 'suit.inflation' } });
    view.set(begin('inflate', false));
    bench.set(inRound('live'));
    TestBed.tick();
    expect(said).toEqual([]);
    // Who looks on begins nothing.
    works.set(false);
    view.set(begin('look', true));
    TestBed.tick();
    expect(said).toEqual([]);
    works.set(true);
    TestBed.tick();
    expect(said).toEqual([{ kind: 'began', stage: 'look', attempt: 1 }]);
    // The rig is let down by its hand before that stage begins; a real suit by its own.
    bench.set(inRound('simulated'));
    view.set(begin('aftercare', true));
    TestBed.tick();
    expect(said).toHaveLength(1);
    bench.set(inRound('live'));
    TestBed.tick();
    expect(said.at(-1)).toEqual({ kind: 'began', stage: 'aftercare', attempt: 1 });
  });
});
