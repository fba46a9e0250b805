import { TestBed } from '@angular/core/testing';
import type { InstrumentView } from '@grellin/contract';
import { describe, expect, it } from 'vitest';
import { Screen } from '../../testing/screen';
import { Undo } from '../undo/undo';
import { InstrumentScreen } from './instrumentScreen';

const mbar = (value: number) => ({ value, unit: 'mbar' });
const view = (more: Partial<InstrumentView> = {}): InstrumentView => ({
  id: 'i1',
  tag: 'PL-04',
  title: 'Pressure logger',
  fittedTo: null,
  low: mbar(0),
  high: mbar(50),
  resolution: mbar(0.01),
  accuracy: mbar(0.05),
  correlation: 0.9,
  calibrationDue: '2020-01-01',
  streams: true,
  simulated: true,
  rig: 'suit',
  device: 'sim/PL-04',
  inUseBy: null,
  calibrations: [],
  zeroChecks: [],
  runs: 12,
  ...more,
});

describe('an instrument', () => {
  const shown = async (role: 'officer' | 'tester' | 'reader' = 'officer', more: Partial<InstrumentView> = {}): Promise<Screen<InstrumentScreen>> => {
    const s = new Screen(InstrumentScreen, role, { id: 'i1' });
    await s.answer('GET', '/api/instruments/i1', view(more));
    return s;
  };

  it('says what it can tell apart, and that its calibration has run out', async () => {
    const s = await shown('reader');
    expect(s.text).toContain('0 mbar to 50 mbar');
    expect(s.text).toContain('ran out on 2020-01-01');
    expect(s.page.querySelectorAll('form')).toHaveLength(0);
  });

  it('is calibrated with points as found and as left; what was found decides, and is said', async () => {
    const s = await shown();
    await s.press('A new calibration');
    expect(s.text).toContain('Say the day.');
    for (const [label, text] of [['Done on', '2026-11-20'], ['Next due', '2027-11-20'], ['By', 'Laboratory'], ['Certificate', 'K-1']] as const) await s.type(label, text); // prettier-ignore
    expect(s.text).toContain('Write at least one point whole');
    await s.type('Nominal, point 1', '10');
    await s.type('As found, point 1', '11,2');
    await s.press('Keep it');
    const asked = await s.answer('POST', '/api/instruments/i1/calibrations', { outOfTolerance: true, recalled: 3, changed: 1 });
    // What is not written as left was left as it was found.
    expect(asked.request.body).toEqual({ on: '2026-11-20', due: '2027-11-20', by: 'Laboratory', certificate: 'K-1', points: [{ nominal: mbar(10), asFound: mbar(11.2), asLeft: mbar(11.2) }] }); // prettier-ignore
    expect(TestBed.inject(Undo).offer()?.words).toBe('Found out of tolerance: 3 runs judged again, 1 to be tested again');
    s.http.expectOne('/api/instruments/i1');
  });

  it('is looked at with nothing on it by whoever tests', async () => {
    const s = await shown('tester');
    await s.type('With nothing on it, it shows', '0.2');
    await s.press('Keep the zero check');
    const asked = await s.answer('POST', '/api/instruments/i1/zero', { within: false });
    expect(asked.request.body).toEqual({ shows: mbar(0.2) });
    expect(TestBed.inject(Undo).offer()?.words).toContain('Do not test with it');
  });
});
