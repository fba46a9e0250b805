import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { usualChecksOf } from '@grellin/core';
import { describe, expect, it, vi } from 'vitest';
import { Screen } from '../../../testing/screen';
import { NewAssetScreen } from './newAsset';

describe('a new item', () => {
  const filled = async (): Promise<Screen<NewAssetScreen>> => {
    const s = new Screen(NewAssetScreen);
    for (const [label, text] of [['Tag', 'GS-30'], ['Serial', 'S-30'], ['What it is', 'Gas-tight suit'], ['Place', 'Fire store'], ['Made on', '2024-05'], ['Life', 'P12Y']] as const) await s.type(label, text); // prettier-ignore
    return s;
  };

  it('is asked for what its class has, and never for a figure of the day', async () => {
    const s = new Screen(NewAssetScreen);
    await s.pick('Class', 'Storage tank with vapour system');
    expect(s.text).toContain('Nozzles affected');
    expect(s.text).not.toContain('Since the last bulk delivery');
    await expect(s.pick('Class', 'Instrument')).rejects.toThrow('offers no');
  });

  it('says beside each field what it lacks, once it is sent, and sends nothing', async () => {
    const s = new Screen(NewAssetScreen);
    expect(s.text).not.toContain('is missing');
    await s.press('Add it');
    for (const field of ['Tag', 'Serial', 'What it is', 'Place']) expect(s.text).toContain(`${field} is missing`);
    expect(s.text).not.toContain('Life is missing');
    const tag = s.control('Tag');
    expect(tag.getAttribute('aria-invalid')).toBe('true');
    expect(tag.getAttribute('aria-describedby')).toBe('tag-hint tag-flaw');
    await s.type('Tag', 'GS-30');
    expect(s.text).not.toContain('Tag is missing');
    expect(tag.getAttribute('aria-describedby')).toBe('tag-hint');
    s.http.verify();
  });

  it('is added with its attributes, each of its kind, and owes its usual checks', async () => {
    const s = await filled();
    await s.pick('Open-faced', 'no');
    await s.type('Exhaust valves', '3');
    await s.type('Inside volume', '0,2');
    await s.pick('Inside volume, unit', 'm³');
    expect(s.text).toContain(`Let it owe its usual checks (${String(usualChecksOf('gas-tight-suit').length)})`);
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await s.press('Add it');
    const asked = await s.answer('POST', '/api/assets', { id: 'a1', change: 'c' });
    expect(asked.request.body).toEqual({
      tag: 'GS-30',
      serial: 'S-30',
      title: 'Gas-tight suit',
      place: 'Fire store',
      class: 'gas-tight-suit',
      madeOn: '2024-05',
      life: 'P12Y',
      practice: false,
      attributes: { openFaced: false, exhaustValves: { value: 3, unit: '1' }, volume: { value: 0.2, unit: 'm3' } },
    });
    await s.answer('POST', '/api/assets/a1/usual', { change: 'd', added: 1 });
    expect(go).toHaveBeenCalledWith(['/register', 'a1']);
  });

  it('takes a figure in the unit of its trade, and asks about one that nobody would expect before it is sent', async () => {
    const s = await filled();
    await s.type('Inside volume', '220');
    await s.pick('Inside volume, unit', 'm³');
    await s.press('Add it');
    expect(s.text).toContain('Inside volume: 220 m³ is more than 1000 L.');
    s.http.verify();
    await s.pick('Inside volume, unit', 'L');
    await s.press('Add it');
    const asked = await s.answer('POST', '/api/assets', { id: 'a1', change: 'c' });
    expect(asked.request.body).toMatchObject({ attributes: { volume: { value: 220, unit: 'L' } } });
    expect(asked.request.body).not.toHaveProperty('sure');
  });

  it('says where a figure is none, and beside its field which of its facts the server refuses', async () => {
    const s = await filled();
    await s.type('Exhaust valves', 'three');
    await s.press('Add it');
    expect(s.text).toContain('Exhaust valves must be a number');
    await s.type('Exhaust valves', '');
    await s.press('Add it');
    await s.refuse('POST', '/api/assets', 400, {
      code: 'malformed',
      message: 'Something is not as it must be.',
      flaws: [{ path: 'life', code: 'interval', message: 'is no ISO 8601 duration' }],
    });
    expect(s.text).toContain('Life is no ISO 8601 duration');
    expect(s.text).toContain('Something is not as it must be.');
    await s.type('Life', 'P10Y');
    expect(s.text).not.toContain('Life is no');
  });
});
