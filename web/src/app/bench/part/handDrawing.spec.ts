import { TestBed } from '@angular/core/testing';
import { drawings } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { HandDrawing } from './handDrawing';

describe('a drawing of hand-work', () => {
  it.each(drawings.map((d) => [d.id, d] as const))('%s is drawn stroke by stroke, and told to who cannot see it', (_, drawing) => {
    const fixture = TestBed.createComponent(HandDrawing);
    fixture.componentRef.setInput('drawing', drawing);
    fixture.detectChanges();
    const page = fixture.nativeElement as HTMLElement;
    expect([...page.querySelectorAll('path')].map((p) => [p.getAttribute('d'), p.getAttribute('class')])).toEqual(drawing.strokes.map((s) => [s.d, s.as]));
    expect([...page.querySelectorAll('text')].map((t) => t.textContent)).toEqual(drawing.labels.map((l) => l.text));
    expect(page.querySelector('svg')?.getAttribute('aria-label')).toBe(drawing.words);
    expect(page.querySelector('figcaption')?.textContent).toBe(drawing.title);
  });
});
