import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { describe, expect, it, vi } from 'vitest';
import { Screen } from '../../testing/screen';
import { FindBox } from './findBox';

const rows = ['GS-01', 'GS-02', 'GS-03'].map((tag) => ({ id: tag, tag, title: 'Suit', serial: `S-${tag}`, place: 'Fire store' }));

describe('the find box', () => {
  const found = async (): Promise<Screen<FindBox>> => {
    const s = new Screen(FindBox);
    const box = s.page.querySelector('input') as HTMLInputElement;
    for (const text of ['g', 'gs', 'gs-0']) {
      box.value = text;
      box.dispatchEvent(new Event('input'));
    }
    await new Promise((done) => setTimeout(done, 160));
    // A person types faster than a server is asked: one question for three strokes.
    const asked = await s.answer('GET', '/api/assets', { rows, next: null, count: 3 });
    expect(asked.request.params.get('q')).toBe('gs-0');
    return s;
  };
  const key = async (s: Screen<FindBox>, name: string): Promise<void> => {
    s.page.querySelector('input')?.dispatchEvent(new KeyboardEvent('keydown', { key: name, cancelable: true }));
    await s.settle();
  };
  const chosen = (s: Screen<FindBox>): string => (s.page.querySelector('[aria-selected="true"]')?.textContent ?? '').replace(/\s+/g, ' ').trim();

  it('is walked by the arrows, not past its ends, and jumps with Enter', async () => {
    const s = await found();
    expect(chosen(s)).toContain('GS-01');
    for (const name of ['ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowUp']) await key(s, name);
    expect(chosen(s)).toContain('GS-02');
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await key(s, 'Enter');
    expect(go).toHaveBeenCalledWith(['/register', 'GS-02']);
    expect(s.page.querySelector('ul')).toBeNull();
  });

  it('is left by Escape, and stands ready at a stroke of /', async () => {
    const s = await found();
    await key(s, 'Escape');
    expect(s.page.querySelector('ul')).toBeNull();
    document.body.append(s.page);
    const slash = new KeyboardEvent('keydown', { key: '/', cancelable: true });
    document.dispatchEvent(slash);
    expect(slash.defaultPrevented).toBe(true);
    expect(document.activeElement).toBe(s.page.querySelector('input'));
    s.page.remove();
  });
});
