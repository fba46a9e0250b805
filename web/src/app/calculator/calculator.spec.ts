import { TestBed } from '@angular/core/testing';
import { describe, expect, it, vi } from 'vitest';
import { Calculator } from './calculator';

const shown = (noting = false) => {
  const fixture = TestBed.createComponent(Calculator);
  fixture.componentRef.setInput('noting', noting);
  fixture.detectChanges();
  const element = fixture.nativeElement as HTMLElement;
  const press = (name: string): void => {
    [...element.querySelectorAll('button')].find((b) => b.textContent.trim() === name)?.click();
    fixture.detectChanges();
  };
  const type = async (id: string, text: string): Promise<void> => {
    await fixture.whenStable();
    const box = element.querySelector<HTMLInputElement>(`#${id}`);
    if (!box) throw new Error(id);
    box.value = text;
    box.dispatchEvent(new Event('input'));
    fixture.detectChanges();
  };
  return { fixture, element, press, type };
};

describe('the calculator', () => {
  it('shows a quantity in every unit of its kind, each fluid by name', () => {
    const { element } = shown();
    expect(element.textContent).toContain('0.01450377');
    expect(element.textContent).toContain('mmHg');
  });
  it('works a sum out as it is typed, with its formula', async () => {
    const { element, press, type } = shown();
    press('Expansion of a cylinder');
    await type('calc-permanent', '9,4');
    expect(element.textContent).toContain('5.58195 %');
    expect(element.textContent).toContain('elastic = total − permanent');
  });
  it('says what is missing or cannot be', async () => {
    const { element, press, type } = shown();
    press('Half-life');
    await type('calc-end', '');
    expect(element.querySelector('[role="alert"]')?.textContent).toContain('Pressure at the end is missing.');
    await type('calc-end', '300');
    expect(element.querySelector('[role="alert"]')?.textContent).toContain('below the start');
  });
  it('puts what went in, the formula and the result into a note', () => {
    const { fixture, press } = shown(true);
    const noted = vi.fn();
    fixture.componentInstance.note.subscribe(noted);
    press('Breathing bag');
    press('Put it into a note of this run');
    expect(noted).toHaveBeenCalledWith(expect.stringMatching(/^Breathing bag: body mass 22 kg; .*by mass 3 L/));
  });
});
