import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { describe, expect, it, vi } from 'vitest';
import { Screen } from '../../testing/screen';
import { NewInstrumentScreen } from './newInstrument';

describe('a new instrument', () => {
  const filled = async (): Promise<Screen<NewInstrumentScreen>> => {
    const s = new Screen(NewInstrumentScreen);
    for (const [label, text] of [['Tag', 'MG-20'], ['Serial', 'C-1'], ['What it is', 'Column gauge'], ['Place', 'Gauge room']] as const) await s.type(label, text); // prettier-ignore
    await s.pick('It reads in', 'psi');
    for (const [label, text] of [['Range from (psi)', '0'], ['Range to (psi)', '150'], ['Smallest step (psi)', '1'], ['Limit of error, ± (psi)', '2,4']] as const) await s.type(label, text); // prettier-ignore
    return s;
  };

  it('says beside each field what a judgement needs of it and it lacks', async () => {
    const s = new Screen(NewInstrumentScreen);
    await s.press('Add it');
    expect(s.text).toContain('Tag is missing');
    expect(s.text).toContain('Range to (mbar) must be a number');
    s.http.verify();
    const whole = await filled();
    await whole.type('Range to (psi)', '0');
    await whole.type('How far two readings close together err alike, 0 to 1', '1.2');
    await whole.press('Add it');
    expect(whole.text).toContain('Range to (psi) must be above where the range begins');
    expect(whole.text).toContain('0 to 1 must be from 0 to 1');
    await whole.type('Range to (psi)', 'much');
    expect(whole.text).toContain('Range to (psi) must be a number');
    whole.http.verify();
  });

  it('is added in the unit that it reads in, without evidence no correlation, and shown', async () => {
    const s = await filled();
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await s.press('Add it');
    const asked = await s.answer('POST', '/api/instruments', { id: 'i1', change: 'c' });
    expect(asked.request.body).toEqual({
      tag: 'MG-20',
      serial: 'C-1',
      title: 'Column gauge',
      place: 'Gauge room',
      fittedTo: null,
      low: { value: 0, unit: '[psi]' },
      high: { value: 150, unit: '[psi]' },
      resolution: { value: 1, unit: '[psi]' },
      accuracy: { value: 2.4, unit: '[psi]' },
      correlation: 0,
      calibratedOn: null,
      calibrationDue: null,
      address: null,
      rig: null,
    });
    expect(go).toHaveBeenCalledWith(['/instruments', 'i1']);
  });

  it('says what the server refuses, and keeps what was typed', async () => {
    const s = await filled();
    await s.press('Add it');
    await s.refuse('POST', '/api/instruments', 409, { code: 'instrument.exists', message: 'The tag MG-20 is taken.' });
    expect(s.text).toContain('The tag MG-20 is taken.');
    expect((s.control('Tag') as HTMLInputElement).value).toBe('MG-20');
  });
});
