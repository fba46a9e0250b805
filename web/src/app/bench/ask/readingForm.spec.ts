import { TestBed } from '@angular/core/testing';
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
  return { element, written, type, press };
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
});
