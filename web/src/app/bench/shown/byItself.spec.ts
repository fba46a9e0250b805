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
});
