import type { AccountRole } from '@grellin/contract';
import { describe, expect, it } from 'vitest';
import { anItem } from '../../testing/items';
import { Screen } from '../../testing/screen';
import { FirstDay } from './firstDay';

const page = (rows: readonly object[]): object => ({ rows, next: null, count: rows.length, more: false });

describe('the first day', () => {
  const shown = async (
    has: { name?: string; people?: number; gauges?: number; items?: readonly object[]; records?: number },
    role: AccountRole = 'officer',
  ) => {
    const s = new Screen(FirstDay, role);
    await s.answer('GET', '/api/station', { name: has.name ?? '', zone: 'UTC' });
    await s.answer(
      'GET',
      '/api/people',
      Array.from({ length: has.people ?? 1 }, (_, i) => ({ id: String(i) })),
    );
    await s.answer(
      'GET',
      '/api/instruments',
      Array.from({ length: has.gauges ?? 0 }, (_, i) => ({ id: String(i) })),
    );
    await s.answer('GET', '/api/assets', page(has.items ?? []));
    await s.answer('GET', '/api/records', page(Array.from({ length: has.records ?? 0 }, () => ({}))));
    return s;
  };
  const next = (s: Screen<FirstDay>): string => s.page.querySelector('[aria-current="step"] .control.main')?.textContent.trim() ?? '';

  it('leads from an empty station to its first check: what there is ticks itself', async () => {
    expect(next(await shown({}))).toBe('Settings');
    expect(next(await shown({ name: 'Skarvoy' }))).toBe('People');
    expect(next(await shown({ name: 'Skarvoy', people: 2 }))).toBe('New instrument');
    expect(next(await shown({ name: 'Skarvoy', people: 2, gauges: 1 }))).toBe('New item');
    const last = await shown({ name: 'Skarvoy', people: 2, gauges: 1, items: [anItem({ id: 'a1', tag: 'GS-01' })] });
    expect(next(last)).toBe('Check GS-01');
    expect(last.page.querySelector('[aria-current="step"] a')?.getAttribute('href')).toBe('/register/a1#start');
  });

  it('leads nobody where only an officer may go', async () => {
    const s = await shown({}, 'tester');
    expect(s.page.querySelectorAll('a')).toHaveLength(0);
    expect(s.text).toContain('Name the station');
  });

  it('is over once something has been sealed', async () => {
    expect((await shown({ records: 1 })).page.querySelector('section')).toBeNull();
  });
});
