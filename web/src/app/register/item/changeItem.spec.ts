import { describe, expect, it } from 'vitest';
import { anItem } from '../../../testing/items';
import { Screen } from '../../../testing/screen';
import { ChangeItem } from './changeItem';

const suit = anItem({
  id: 'a1',
  tag: 'GS-01',
  class: 'gas-tight-suit',
  revision: 4,
  madeOn: '2024-05',
  attributes: { openFaced: false, buildStandard: 'as it was painted on', volume: { value: 200, unit: 'L' }, elsewhere: 'kept' },
});
const shown = (): Screen<ChangeItem> => new Screen(ChangeItem, 'officer', { asset: suit });

describe('changing an item', () => {
  it('shows all that is known of it, and sends what was changed with the revision that was seen', async () => {
    const s = shown();
    await s.settle();
    expect(s.control('Made on').value).toBe('2024-05');
    expect(s.control('Inside volume').value).toBe('200');
    await s.type('Place', 'Fire store');
    await s.type('Inside volume', '220');
    await s.pick('Open-faced', 'yes');
    await s.pick('Built to', 'EN 943-1');
    await s.press('Keep the change');
    const asked = await s.answer('PATCH', '/api/assets/a1', { change: 'c' });
    expect(asked.request.body).toEqual({
      revision: 4,
      serial: 'X-01',
      title: 'something',
      place: 'Fire store',
      madeOn: '2024-05',
      life: null,
      attributes: { elsewhere: 'kept', openFaced: true, buildStandard: 'EN 943-1', volume: { value: 220, unit: 'L' } },
    });
  });

  it('keeps an answer of earlier that is none of those that there are, unless it is changed', async () => {
    const s = shown();
    await s.press('Keep the change');
    const asked = await s.answer('PATCH', '/api/assets/a1', { change: 'c' });
    expect(asked.request.body).toMatchObject({ attributes: { buildStandard: 'as it was painted on' } });
  });

  it('asks about a figure that nobody would expect, and again when it is changed to another', async () => {
    const s = shown();
    await s.pick('Inside volume, unit', 'm³');
    await s.press('Keep the change');
    expect(s.text).toContain('Inside volume: 200 m³ is more than 1000 L.');
    s.http.verify();
    await s.type('Inside volume', '300');
    await s.press('Keep the change');
    expect(s.text).toContain('Inside volume: 300 m³ is more than 1000 L.');
    s.http.verify();
    await s.press('It is so');
    const asked = await s.answer('PATCH', '/api/assets/a1', { change: 'c' });
    expect(asked.request.body).toMatchObject({ sure: ['volume'], attributes: { volume: { value: 300, unit: 'm3' } } });
  });

  it('sends nothing while a figure is none, or a field that every item has is empty', async () => {
    const s = shown();
    await s.type('Inside volume', 'large');
    await s.type('Place', '');
    await s.press('Keep the change');
    expect(s.text).toContain('Place is missing');
    expect(s.text).toContain('Inside volume must be a number');
    s.http.verify();
  });
});
