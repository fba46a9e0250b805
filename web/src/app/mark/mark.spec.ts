import { TestBed } from '@angular/core/testing';
import { findingsOf, procedureById, readinessKinds, usable } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { csv, csvField } from '../api/csv';
import { is, suitRun } from '../../testing/scriptedRun';
import { Allowance } from './allowance';
import { FindingCard } from './findingCard';
import { Seal, type SealKind } from './seal';
import { standingSeal } from './standingSeal';

describe('the seal', () => {
  it('tells the verdicts apart by shape, not by colour alone', () => {
    const shapes = (['pass', 'fail', 'undecided', 'void', 'condemned', 'late', 'none'] as const).map((kind: SealKind) => {
      const fixture = TestBed.createComponent(Seal);
      fixture.componentRef.setInput('kind', kind);
      fixture.detectChanges();
      return (fixture.nativeElement as HTMLElement).querySelector('svg')?.innerHTML.replace(/<!--.*?-->/g, '');
    });
    expect(new Set(shapes).size).toBe(7);
  });
});

describe('the allowance bar', () => {
  it('never runs past its end, but says the number', () => {
    const fixture = TestBed.createComponent(Allowance);
    fixture.componentRef.setInput('percent', 220);
    fixture.detectChanges();
    const element = fixture.nativeElement as HTMLElement;
    expect(element.querySelector<HTMLElement>('.used')?.style.width).toBe('100%');
    expect(element.textContent).toContain('220 %');
  });
});

describe('the ring of an item', () => {
  it('is closed for what may be used and is not late, and for nothing else, whatever its last test said', () => {
    const closed = readinessKinds.filter((kind) => standingSeal(kind) === 'pass');
    expect(closed).toEqual(readinessKinds.filter((kind) => usable(kind) && kind !== 'useUp'));
  });
});

describe('a finding', () => {
  it('says the word, the arithmetic, the confidence and the source', () => {
    const run = suitRun('zip end', 'mbar-16.5');
    const state = run.upTo(is({ kind: 'ended', stage: 'inflate' }));
    const stage = run.plan.stages.find((s) => s.id === 'inflate');
    const attempt = state.attempts['inflate']?.[0];
    const finding = stage && attempt && findingsOf(run.plan, state, stage, attempt)[0];
    const fixture = TestBed.createComponent(FindingCard);
    fixture.componentRef.setInput('finding', finding);
    fixture.componentRef.setInput('procedure', procedureById('suit.inflation'));
    fixture.detectChanges();
    const text = (fixture.nativeElement as HTMLElement).textContent;
    expect(text).toContain('leaks');
    expect(text).toMatch(/16\.\d\d − \d+\.\d\d = \d+\.\d\d mbar in 6 min; allowed 3\.00/);
    expect(text).toContain('EN 943-1:2002 (from memory), leak-tightness limit');
  });
});

describe('CSV (RFC 4180)', () => {
  it.each([
    ['plain', 'plain'],
    ['a,b', '"a,b"'],
    ['say "no"', '"say ""no"""'],
    ['two\nlines', '"two\nlines"'],
    ['=1+1', "'=1+1"],
    ['@cmd', "'@cmd"],
    [-3.5, '-3.5'],
    [null, ''],
    [true, 'true'],
  ])('writes %j as %s', (value, text) => expect(csvField(value)).toBe(text));

  it('ends every record with CRLF', () => expect(csv(['a', 'b'], [[1, 'x']])).toBe('a,b\r\n1,x\r\n'));
});
