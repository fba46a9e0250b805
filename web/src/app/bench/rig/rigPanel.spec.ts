import type { Scene } from '@grellin/contract';
import { describe, expect, it } from 'vitest';
import { Screen } from '../../../testing/screen';
import { RigPanel } from './rigPanel';

const scene: Scene = { clockMs: 0, speed: 0, happening: [], wrong: [], bubbles: {}, seen: {} };
const RIG = '/api/instruments/i1/rig';

describe('the simulated rig’s panel', () => {
  const opened = async (): Promise<Screen<RigPanel>> => {
    const s = new Screen(RigPanel, 'tester', {
      instrument: 'i1',
      procedure: 'suit.inflation',
      ruleSet: 'in-h2o-4',
      ask: { moves: null, window: null, look: null },
    });
    await s.answer('GET', RIG, { id: 'suit', title: 'Suit', actions: [{ act: 'shut', label: 'Shut the tap' }], faults: ['none'] });
    await s.answer('GET', '/api/instruments/i1/scene', scene);
    return s;
  };

  it('does one thing after the other, however fast the keys are pressed: time never overtakes a tap that is shut before it', async () => {
    const s = await opened();
    const section = s.page.querySelector<HTMLElement>('section');
    // Both at once, before the page has shown that it is at the first.
    s.button('Shut the tap').click();
    s.button('Pass').click();
    await s.settle();
    const asked = s.http.match((r) => r.method === 'POST' && r.url === RIG);
    expect(asked.map((r) => r.request.body as unknown)).toEqual([{ act: 'hand', move: 'shut' }]);
    expect(section?.getAttribute('aria-busy')).toBe('true');
    asked[0]?.flush({ answer: 'ok' });
    await s.settle();
    await s.answer('GET', '/api/instruments/i1/scene', scene);
    await s.settle();
    expect(section?.dataset['done']).toBe('1');
    const second = await s.answer('POST', RIG, { answer: 'ok' });
    expect(second.request.body).toEqual({ act: 'step', seconds: 10 });
    await s.answer('GET', '/api/instruments/i1/scene', scene);
    await s.settle();
    expect(section?.dataset['done']).toBe('2');
    expect(section?.getAttribute('aria-busy')).toBe('false');
  });

  it('does nothing before what was said at the bench is stored: readings that overtook a word would count for the step before it', async () => {
    const s = await opened();
    s.fixture.componentRef.setInput('unsaid', true);
    await s.press('Pass');
    await s.settle();
    s.http.expectNone((r) => r.method === 'POST');
    expect(s.page.querySelector('section')?.getAttribute('aria-busy')).toBe('true');
    s.fixture.componentRef.setInput('unsaid', false);
    await s.settle();
    await s.answer('POST', RIG, { answer: 'ok' });
    await s.answer('GET', '/api/instruments/i1/scene', scene);
    await s.settle();
    expect(s.page.querySelector('section')?.dataset['done']).toBe('1');
  });

  it('is done with a while only when the bench has heard it: what is said before that would stand at a moment that is past', async () => {
    const s = await opened();
    s.fixture.componentRef.setInput('heard', 318_500);
    await s.press('Pass');
    await s.answer('POST', RIG, { answer: 'ok' });
    await s.answer('GET', '/api/instruments/i1/scene', { ...scene, clockMs: 150_000 });
    const section = s.page.querySelector<HTMLElement>('section');
    // The first of the readings is not the last of them.
    s.fixture.componentRef.setInput('heard', 340_000);
    await s.settle();
    expect([section?.dataset['done'], section?.getAttribute('aria-busy')]).toEqual(['0', 'true']);
    s.fixture.componentRef.setInput('heard', 467_900);
    await s.settle();
    expect([section?.dataset['done'], section?.getAttribute('aria-busy')]).toEqual(['1', 'false']);
  });

  it('says what went wrong, and does what is asked after it', async () => {
    const s = await opened();
    await s.press('Pass');
    await s.refuse('POST', RIG, 409, { code: 'rig.move', message: 'The rig cannot do that now.' });
    expect(s.text).toContain('The rig cannot do that now.');
    await s.press('Shut the tap');
    await s.answer('POST', RIG, { answer: 'ok' });
    await s.answer('GET', '/api/instruments/i1/scene', scene);
    expect(s.text).not.toContain('The rig cannot do that now.');
  });
});
