import 'fake-indexeddb/auto';
import { TestBed } from '@angular/core/testing';
import type { RunEvent } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { Outbox } from './outbox';

const event = (n: number): RunEvent => ({ id: `e${n}`, source: 'bench:a', n, at: n, kind: 'disturbed', note: 'x' });

describe('what the server has not confirmed', () => {
  it('lies in this browser in order, by run and by account, until it is sent', async () => {
    const outbox = TestBed.inject(Outbox);
    for (const n of [1, 2, 3]) await outbox.put({ run: 'r', account: 'tester', lease: 1, event: event(n) });
    await outbox.put({ run: 'r', account: 'officer', lease: 2, event: event(9) });
    await outbox.put({ run: 'other', account: 'tester', lease: 1, event: event(8) });
    expect((await outbox.of('r', 'tester')).map((q) => q.event.id)).toEqual(['e1', 'e2', 'e3']);
    await outbox.remove('r', new Set(['e1', 'e3']));
    expect((await outbox.of('r', 'tester')).map((q) => q.event.id)).toEqual(['e2']);
    expect((await outbox.of('r', 'officer')).map((q) => q.event.id)).toEqual(['e9']);
    expect(await outbox.of('other', 'tester')).toHaveLength(1);
  });
});
