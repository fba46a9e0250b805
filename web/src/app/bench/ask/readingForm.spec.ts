import { TestBed } from '@angular/core/testing';
import { KeypadChoice } from '../../preference/keypadChoice';
import { ReadingForm, type TypedReading } from './readingForm';

function form() {
  const fixture = TestBed.createComponent(ReadingForm);
  const psi = (value: number) => ({ value, unit: '[psi]' });
  fixture.componentRef.setInput('channel', 'primary');
  fixture.componentRef.setInput('title', 'Primary gauge');
  fixture.componentRef.setInput('instrument', { low: psi(0), high: psi(200), resolution: psi(1), accuracy: psi(1) });
  const written: TypedReading[] = [];
  fixture.componentInstance.written.subscribe((r) => written.push(r));
  const element = fixture.nativeElement as HTMLElement;
  const type = async (text: string): Promise<void> => {
    await fixture.whenStable();
    const input = element.querySelector('input') as HTMLInputElement;
    input.value = text;
    input.dispatchEvent(new Event('input'));
    element.querySelector('form')?.dispatchEvent(new Event('submit'));
    await fixture.whenStable();
    fixture.detectChanges();
  };
  const press = async (name: string): Promise<void> => {
    [...element.querySelectorAll('button')].find((b) => b.textContent.trim() === name)?.click();
    await fixture.whenStable();
    fixture.detectChanges();
  };
  return { fixture, element, written, type, press };
}

describe('a reading that is typed', () => {
  it('is written down in the gauge’s unit', async () => {
    const { written, type } = form();
    await type('85');
    expect(written).toEqual([{ channel: 'primary', quantity: { value: 85, unit: '[psi]' } }]);
  });
  it('is gone from the field once it is taken, however fast it was typed and ended', async () => {
    const { element, written, type } = form();
    await type('114');
    await type('113');
    expect(written.map((r) => r.quantity.value)).toEqual([114, 113]);
    expect(element.querySelector('input')?.value).toBe('');
  });
  it('is asked about where it could be two numbers', async () => {
    const { element, written, type, press } = form();
    await type('7,430');
    expect(written).toEqual([]);
    expect(element.textContent).toContain('could mean two numbers');
    await press('7.43 psi');
    expect(written.map((r) => r.quantity.value)).toEqual([7.43]);
    expect(element.textContent).not.toContain('could mean two numbers');
  });
  it('says where it is finer than the gauge, and is kept as it was read when that is confirmed', async () => {
    const { element, written, type, press } = form();
    await type('3,4');
    expect(written).toEqual([]);
    expect(element.textContent).toContain('steps of 1 psi');
    // Another number is another question.
    await type('3');
    expect(written.map((r) => r.quantity.value)).toEqual([3]);
    await type('3,4');
    await press('3.4 psi');
    expect(written.map((r) => r.quantity.value)).toEqual([3, 3.4]);
  });
  it('says what is no number', async () => {
    const { element, written, type } = form();
    await type('abc');
    expect(written).toEqual([]);
    expect(element.querySelector('[role=alert]')?.textContent).toContain('must be a number');
  });

  describe('on keys of our own', () => {
    beforeEach(() => TestBed.inject(KeypadChoice).on.set(true));
    afterEach(() => localStorage.removeItem('grellin.keypad'));
    const opened = async () => {
      const all = form();
      await all.fixture.whenStable();
      const field = all.element.querySelector('input') as HTMLInputElement;
      field.dispatchEvent(new Event('focus'));
      await all.fixture.whenStable();
      all.fixture.detectChanges();
      return { ...all, field };
    };

    it('writes a fraction, a sign and a point, takes one back, and says what each key is', async () => {
      const { element, field, written, press } = await opened();
      expect(field.getAttribute('inputmode')).toBe('none');
      for (const key of ['1', '␣', '1', '/', '2', '3', '⌫']) await press(key);
      expect(field.value).toBe('1 1/2');
      await press('±');
      expect(field.value).toBe('−1 1/2');
      await press('±');
      await press('Write it down');
      // A gauge of whole steps is asked whether it shows a half.
      expect(element.textContent).toContain('steps of 1 psi');
      await press('C');
      for (const key of ['8', '5']) await press(key);
      await press('Write it down');
      expect(written).toEqual([{ channel: 'primary', quantity: { value: 85, unit: '[psi]' } }]);
      expect(element.querySelector('gr-keypad')).toBe(null);
      for (const key of element.querySelectorAll('.key')) expect(key.getAttribute('aria-label')).not.toBe('');
    });

    it('puts the value of last time into the field in its own unit, and writes it down only when it is told to', async () => {
      const { fixture, field, written, press } = await opened();
      fixture.componentRef.setInput('last', { value: 586, unit: 'kPa' });
      fixture.detectChanges();
      await press('Same again: 586 kPa');
      expect(field.value).toBe('586');
      expect(written).toEqual([]);
      await press('Write it down');
      expect(written).toEqual([{ channel: 'primary', quantity: { value: 586, unit: 'kPa' } }]);
    });

    it('has the same figure in another unit for another: what is typed keeps the unit that stands there', async () => {
      const { fixture, written, press } = await opened();
      fixture.componentRef.setInput('last', { value: 5, unit: 'bar' });
      fixture.detectChanges();
      await press('5');
      await press('Write it down');
      expect(written).toEqual([{ channel: 'primary', quantity: { value: 5, unit: '[psi]' } }]);
    });

    it('is shut and stays shut once somebody would rather have the keys of the device', async () => {
      const { fixture, element, field, press } = await opened();
      await press('Keypad');
      expect(element.querySelector('gr-keypad')).toBe(null);
      field.dispatchEvent(new Event('focus'));
      fixture.detectChanges();
      expect(element.querySelector('gr-keypad')).toBe(null);
      expect(field.getAttribute('inputmode')).toBe('decimal');
      expect(localStorage.getItem('grellin.keypad')).toBe('off');
    });
  });
});
