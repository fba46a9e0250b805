import { anItem } from '../../../testing/items';
import { TestBed } from '@angular/core/testing';
import type { InstrumentRow, RecordRow } from '@grellin/contract';
import { signal } from '@angular/core';
import { catalogue, type Attributes, type Tables } from '@grellin/core';
import { practiceTimes } from '@grellin/core/practice';
import { provideState, provideStore, Store } from '@ngrx/store';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { KeptTables } from '../../table/keptTables';
import { registerFeature, type AssetPage } from '../list/registerStore';
import { StartForm } from './startForm';

const gauge = (tag: string, unit: string, more: Partial<InstrumentRow> = {}): InstrumentRow => ({
  id: tag,
  tag,
  title: `Gauge ${tag}`,
  fittedTo: null,
  low: { value: 0, unit },
  high: { value: 50, unit },
  resolution: { value: 0.01, unit },
  accuracy: { value: 0.05, unit },
  correlation: 0.9,
  calibrationDue: '2099-01-01',
  streams: false,
  simulated: false,
  rig: null,
  device: null,
  inUseBy: null,
  ...more,
});

/** A record of a failed test. */
const aRecord: RecordRow = { number: 'GR-0', run: 'r0', procedure: '', procedureTitle: '', ruleSet: '', ruleSetTitle: '', asset: 'a', tag: 'A', assetTitle: '', verdict: 'fail', word: 'leaks', blocks: true, holds: false, condemns: false, allowancePercent: null, simulated: false, practice: false, sealedAt: '2026-11-01T00:00:00Z', by: 'O', nextDue: null }; // prettier-ignore

function page(kind: string, attributes: Attributes, instruments: readonly InstrumentRow[]): AssetPage {
  const asset = {
    ...anItem({ id: 'a', serial: 's', class: kind, attributes }),
    obligations: [],
    instruments: [],
    records: [],
    leaks: [],
    series: [],
    occasions: [],
    kits: [],
    told: {},
    along: [],
  };
  return { asset, instruments, procedures: catalogue.map((document) => ({ digest: 'd', document })), assets: [] };
}

describe('starting a check', () => {
  const tables = signal<Tables>({ times: practiceTimes });
  const kept: Partial<KeptTables> = { fetch: () => undefined, names: () => [practiceTimes.id], tablesFor: () => tables() };
  beforeEach(() => {
    tables.set({ times: practiceTimes });
    TestBed.configureTestingModule({ providers: [provideStore(), provideState(registerFeature), { provide: KeptTables, useValue: kept }] });
  });
  const shown = async (p: AssetPage, typedSerial = 'S', retestOf?: string) => {
    const fixture = TestBed.createComponent(StartForm);
    fixture.componentRef.setInput('page', p);
    fixture.componentRef.setInput('retestOf', retestOf);
    fixture.detectChanges();
    const element = fixture.nativeElement as HTMLElement;
    await fixture.whenStable(); // ngModel listens from the next turn on
    const serial = element.querySelector<HTMLInputElement>('#serial');
    if (serial && typedSerial !== '') {
      serial.value = typedSerial;
      serial.dispatchEvent(new Event('input'));
      fixture.detectChanges();
    }
    const dispatch = vi.spyOn(TestBed.inject(Store), 'dispatch');
    return {
      element,
      button: element.querySelector<HTMLButtonElement>('button.go'),
      dispatch,
      form: fixture.componentInstance,
      go: (to: AssetPage) => {
        fixture.componentRef.setInput('page', to);
        fixture.detectChanges();
      },
      show: () => fixture.detectChanges(),
    };
  };
  const suit = { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' }, buildStandard: 'EN 943-1' };

  it('asks for no gauge where a school goes by feel, says what a hand cannot find, and that its pass does not settle what is owed', async () => {
    const bare = page('breathing-circuit', { layout: 'mapleson-a' }, [gauge('MG-01', 'cm[H2O]')]);
    const owed = { procedure: 'anaes.mapleson-a', ruleSet: 'general', ruleSetTitle: 'With a gauge' };
    const p = { ...bare, asset: { ...bare.asset, obligations: [owed] } } as unknown as AssetPage;
    const { element, form, show } = await shown(p);
    (form as unknown as { procedureId: { set: (id: string) => void } }).procedureId.set('anaes.mapleson-a');
    const choose = (id: string): void => {
      (form as unknown as { ruleSetId: { set: (id: string) => void } }).ruleSetId.set(id);
      show();
    };
    choose('general');
    expect(element.querySelector('#gauge-pressure')).not.toBeNull();
    expect(element.querySelector('#gauge-flow')).toBeNull(); // nothing of this school reads a flow
    expect(element.textContent).not.toContain('It cannot find');
    choose('by-feel');
    expect(element.querySelector('[id^="gauge-"]')).toBeNull();
    expect(element.textContent).toContain('It cannot find');
    expect(element.textContent).toContain('A pass by these rules does not settle what this item owes: With a gauge.');
    choose('general');
    expect(element.textContent).not.toContain('does not settle');
  });

  it('has the rule set that the build standard asks for, explained, and a gauge that streams and is free', async () => {
    const { element, button, dispatch } = await shown(
      page('gas-tight-suit', suit, [
        gauge('MG-01', 'mbar'),
        gauge('PL-01', 'mbar', { streams: true, inUseBy: 'r' }),
        gauge('PL-02', 'mbar', { streams: true }),
      ]),
    );
    expect(element.textContent).toContain('17.5; let down to 17.0 and kept there ten minutes');
    button?.click();
    expect(dispatch).toHaveBeenCalledWith(
      expect.objectContaining({ run: { procedure: 'suit.inflation', ruleSet: 'mbar-16.5', assets: { suit: 'a' }, instruments: { suit: 'PL-02' } } }),
    );
  });

  it('offers for a retest what failed, and says when what is chosen would not release it', async () => {
    const failed = { ...aRecord, run: 'r1', number: 'GR-1', procedure: 'suit.inflation', ruleSet: 'in-h2o-4', ruleSetTitle: '4 inH2O' };
    const at = page('gas-tight-suit', suit, [gauge('MG-01', "[in_i'H2O]")]);
    const p = { ...at, asset: { ...at.asset, records: [failed] } };
    const { element, button, dispatch, form, show } = await shown(p, 'S', 'r1');
    expect(element.textContent).toContain('GR-1');
    expect(element.textContent).not.toContain('would not release it');
    button?.click();
    expect(dispatch).toHaveBeenCalledWith(expect.objectContaining({ run: expect.objectContaining({ ruleSet: 'in-h2o-4', retestOf: 'r1' }) as object }));
    (form as unknown as { ruleSetId: { set(id: string): void } }).ruleSetId.set('mbar-16.5');
    show();
    expect(element.textContent).toContain('would not release it');
  });

  it('says before anything is filled which stages a gauge can decide, and what gauge would', async () => {
    const fine = await shown(page('gas-tight-suit', suit, [gauge('MG-01', 'mbar')]));
    expect(fine.element.textContent).toContain('Decides');
    expect(fine.element.textContent).not.toContain('Cannot decide');
    const dial = { resolution: { value: 1, unit: 'mbar' }, accuracy: { value: 1, unit: 'mbar' }, correlation: 0 };
    const coarse = await shown(page('gas-tight-suit', suit, [gauge('DG-01', 'mbar', dial)]));
    expect(coarse.element.textContent).toMatch(/Cannot decide.*one good to ±.* mbar in steps of .* mbar would/s);
  });

  it('takes both inputs of one device for two gauges', async () => {
    const pair = (tag: string, device: string) => gauge(tag, '[psi]', { high: { value: 200, unit: '[psi]' }, streams: true, device, rig: 'air-brakes' });
    const { button, dispatch } = await shown(
      page('truck', { units: { value: 1, unit: '1' }, useAs: 'single', school: 'general' }, [
        pair('BP-01a', 'BP-01'),
        pair('BP-02a', 'BP-02'),
        pair('BP-01b', 'BP-01'),
      ]),
    );
    button?.click();
    expect(dispatch).toHaveBeenCalledWith(
      expect.objectContaining({ run: expect.objectContaining({ ruleSet: 'single', instruments: { primary: 'BP-01a', secondary: 'BP-01b' } }) as unknown }),
    );
  });

  it('makes the officer choose where nothing says which rules hold', async () => {
    const { element, button } = await shown(
      page('gas-tight-suit', { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } }, [gauge('MG-01', 'mbar')]),
    );
    expect(element.querySelector('[role="alert"]')?.textContent).toContain('Choose a rule set');
    expect(button?.disabled).toBe(true);
  });

  it('warns of a gauge out of calibration, and offers none that measures something else or is fitted elsewhere', async () => {
    const expired = await shown(page('gas-tight-suit', suit, [gauge('MG-03', 'mbar', { calibrationDue: '2020-01-01' })]));
    expect(expired.element.textContent).toContain('Its calibration ran out on 2020-01-01. A run made with it is void.');
    const none = await shown(page('gas-tight-suit', suit, [gauge('BL-01', 'L'), gauge('DG-01', '[psi]', { fittedTo: 'other' })]));
    expect(none.element.textContent).toContain('Choose a gauge for each channel.');
  });

  it('opens nothing for an item whose serial is not read, or is another one', async () => {
    const gauges = [gauge('PL-02', 'mbar', { streams: true })];
    expect((await shown(page('gas-tight-suit', suit, gauges), '')).element.textContent).toContain('Scan or type the serial');
    const other = await shown(page('gas-tight-suit', suit, gauges), 'S-2');
    expect(other.element.textContent).toContain('another one');
    expect(other.button?.disabled).toBe(true);
  });

  const farm = page(
    'storage-tank',
    {
      aboveGround: false,
      nitrogenBy: 'coupler',
      tieTest: false,
      tanks: { value: 1, unit: '1' },
      authority: practiceTimes.id,
    },
    [gauge('VT-01', "[in_i'H2O]", { streams: true })],
  );

  it('asks for the figures of the day, and says what must be waited for', async () => {
    const { element } = await shown(farm);
    for (const id of ['sinceDelivery', 'sinceLiquidTest', 'sinceFuelling']) expect(element.querySelector(`#figure-${id}`), id).not.toBeNull();
    expect(element.querySelector('#figure-ullage')).toBeNull(); // told tank by tank
    expect(element.textContent).toContain('Say: ');
  });

  it('is not begun without the table that the item names, nor beyond its last line', async () => {
    const told = (ullage: number) => ({ 'tank.vapour-10': { tanks: [{ capacity: { value: 90_000, unit: '[gal_us]' }, ullage: { value: ullage, unit: '[gal_us]' } }] } }); // prettier-ignore
    const yesterday = new Date(Date.now() - 30 * 3_600_000).toISOString().slice(0, 16);
    const say = (form: StartForm): void => {
      for (const id of ['sinceDelivery', 'sinceLiquidTest', 'sinceFuelling'])
        (form as unknown as { day: { say: (id: string, text: string) => void } }).day.say(id, yesterday);
    };
    const { element, form, show, button } = await shown({ ...farm, asset: { ...farm.asset, told: told(20_000) } });
    say(form);
    show();
    expect(button?.disabled).toBe(false);
    tables.set({});
    show();
    expect(element.textContent).toContain(`No edition of the table “${practiceTimes.id}” is kept that holds today.`);
    expect(button?.disabled).toBe(true);
    tables.set({ times: { ...practiceTimes, lines: practiceTimes.lines.slice(0, 1) } });
    show();
    expect(element.textContent).toContain('goes up to 3000 US gal and no further');
  });

  it('begins a round where items can follow one another, and never as a retest', async () => {
    const gauges = [gauge('PL-02', 'mbar', { streams: true })];
    const { element, button, dispatch, show } = await shown(page('gas-tight-suit', suit, gauges));
    const box = element.querySelector<HTMLInputElement>('input[name=round]');
    expect(box?.checked).toBe(false);
    box?.click();
    show();
    button?.click();
    expect(dispatch).toHaveBeenCalledWith(expect.objectContaining({ round: 'X-01' }));
    const again = await shown(page('gas-tight-suit', suit, gauges), 'S', 'r0');
    expect(again.element.querySelector('input[name=round]')).toBeNull();
  });

  it('reads a printout into the fields, and says what it could not read', async () => {
    const { element, show } = await shown(farm);
    const press = (words: string): void => {
      [...element.querySelectorAll<HTMLButtonElement>('gr-day-list button')].find((b) => b.textContent.includes(words))?.click();
      show();
    };
    press('Paste a printout');
    const box = element.querySelector<HTMLTextAreaElement>('#tanks-printout');
    const write = (text: string): void => {
      if (!box) throw new Error('no box');
      box.value = text;
      box.dispatchEvent(new Event('input'));
      show();
      press('Put it into the fields');
    };
    write('nothing of the kind');
    expect(element.textContent).toContain('0 read.');
    expect(element.querySelectorAll('gr-day-list legend')).toHaveLength(1);
    write('SITE 4\nCapacity\tUllage\tManifold\n10000\t4000\tA\n8000\t3000\tA\n6000\t2000\t\n');
    expect(element.textContent).toContain('3 read. Look at every figure before it counts.');
    expect(element.textContent).toContain('SITE 4');
    expect(element.querySelector<HTMLInputElement>('#a-tanks-2-ullage')?.value).toBe('3000');
    expect(element.querySelector<HTMLInputElement>('#a-tanks-2-manifold')?.value).toBe('A');
  });

  it('asks tank by tank, as many as there are, and begins with what was told last time', async () => {
    const yesterday = new Date(Date.now() - 30 * 3_600_000).toISOString().slice(0, 16);
    const told = { capacity: { value: 10_000, unit: '[gal_us]' }, ullage: { value: 4000, unit: '[gal_us]' } };
    const { element, form, show, button, dispatch } = await shown({
      ...farm,
      asset: { ...farm.asset, told: { 'tank.vapour-10': { tanks: [told, { ...told, name: 'diesel' }] } } },
    });
    const legends = () => [...element.querySelectorAll('gr-day-list legend')].map((l) => l.textContent);
    expect(legends()).toEqual(['Tank 1', 'Tank 2']);
    expect(element.querySelector<HTMLInputElement>('#a-tanks-2-ullage')?.value).toBe('4000');
    for (const id of ['sinceDelivery', 'sinceLiquidTest', 'sinceFuelling']) (form as unknown as { day: { say: (id: string, text: string) => void } }).day.say(id, yesterday);
    const press = (words: string): void => {
      [...element.querySelectorAll<HTMLButtonElement>('gr-day-list button')].find((b) => b.textContent.includes(words))?.click();
      show();
    };
    press('Another');
    expect(legends()).toEqual(['Tank 1', 'Tank 2', 'Tank 3']);
    expect(element.textContent).toContain('Tank 3: say its capacity.');
    expect(button?.disabled).toBe(true);
    press('Leave out'); // the first of them
    expect(legends()).toEqual(['Tank 1', 'Tank 2']);
    press('Leave out');
    const typed = (id: string, text: string): void => {
      const input = element.querySelector<HTMLInputElement>(`#a-tanks-1-${id}`);
      if (!input) throw new Error(id);
      input.value = text;
      input.dispatchEvent(new Event('input'));
      show();
    };
    typed('capacity', '10000');
    typed('ullage', '1000');
    expect(element.textContent).toContain('Tank 1: Ullage is too small: 15 % at least');
    typed('ullage', '4000');
    button?.click();
    expect(dispatch).toHaveBeenCalledWith(expect.objectContaining({ run: expect.objectContaining({ lists: { tanks: [told] } }) as unknown }));
  });

  it('tells nothing of one item’s tanks of the next', async () => {
    const tanks = (ullage: number) => ({ 'tank.vapour-10': { tanks: [{ capacity: { value: 10_000, unit: '[gal_us]' }, ullage: { value: ullage, unit: '[gal_us]' } }] } }); // prettier-ignore
    const first = { ...farm, asset: { ...farm.asset, told: tanks(4000) } };
    const { element, go } = await shown(first);
    const ullage = () => element.querySelector<HTMLInputElement>('#a-tanks-1-ullage')?.value;
    expect(ullage()).toBe('4000');
    go({ ...farm, asset: { ...farm.asset, id: 'b', told: tanks(7000) } });
    expect(ullage()).toBe('7000');
  });

  it('refuses before the server does where the item lacks a figure', async () => {
    const { element } = await shown(
      page('truck', { useAs: 'build from low' }, [gauge('DG-01', '[psi]', { fittedTo: 'a' }), gauge('DG-02', '[psi]', { fittedTo: 'a' })]),
    );
    expect(element.textContent).toContain('Not yet known of this item');
  });
});
