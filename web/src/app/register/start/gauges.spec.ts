import type { InstrumentRow } from '@grellin/contract';
import { procedureById } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { firstGauges } from './gauges';

const gauge = (id: string, more: Partial<InstrumentRow> = {}): InstrumentRow =>
  ({ id, streams: false, inUseBy: null, calibrationDue: '2099-12-31', device: null, fittedTo: null, ...more }) as InstrumentRow;

describe('the gauges that a start begins with', () => {
  it('are one for each place, two inputs of one device where there are two', () => {
    const [a, b, other] = [gauge('a', { streams: true, device: 'd' }), gauge('b', { streams: true, device: 'd' }), gauge('o', { streams: true, device: 'x' })];
    const fitting = [other, a, b];
    expect(firstGauges([['primary', [a, other, b]], ['secondary', fitting]] as const, '2026-11-30', procedureById('brakes.whole'))).toEqual({ primary: 'a', secondary: 'b' }); // prettier-ignore
  });

  it('are none for what need not be read, unless it is the item’s own or on the same device', () => {
    const [a, b] = [gauge('a', { streams: true, device: 'd' }), gauge('b', { streams: true, device: 'd' })];
    const [near, far] = [gauge('near', { streams: true, device: 'd' }), gauge('far', { streams: true, device: 'x' })];
    const own = gauge('own', { fittedTo: 'truck', calibrationDue: null });
    const engine = (...fitting: InstrumentRow[]) => firstGauges([['primary', [a]], ['secondary', [b]], ['engine', fitting]] as const, '2026-11-30', procedureById('brakes.whole'))['engine']; // prettier-ignore
    expect([engine(far), engine(far, near), engine(far, own), engine(gauge('loose'))]).toEqual([undefined, 'near', 'own', undefined]);
  });

  it('are never one for two places that are read at once; a rule that goes from rod to rod is one', () => {
    const only = gauge('only');
    const whole = procedureById('brakes.whole');
    expect(firstGauges([['primary', [only]], ['secondary', [only]]] as const, '2026-11-30', whole)).toEqual({ primary: 'only' }); // prettier-ignore
    expect(firstGauges([['strokeLeft', [only]], ['strokeRight', [only]]] as const, '2026-11-30', whole)).toEqual({ strokeLeft: 'only', strokeRight: 'only' }); // prettier-ignore
    expect(firstGauges([['primary', [only]], ['strokeRight', [only]]] as const, '2026-11-30', whole)).toEqual({ primary: 'only' }); // prettier-ignore
  });

  it('stay as somebody picked them, whatever else the form learns; what was picked is put nowhere else, and none is none', () => {
    const whole = procedureById('brakes.whole');
    const [stream, dial] = [gauge('stream', { streams: true, device: 'd' }), gauge('dial')];
    const both = [stream, dial];
    expect(firstGauges([['primary', both], ['secondary', both]] as const, '2026-11-30', whole, { secondary: 'stream' })).toEqual({ primary: 'dial', secondary: 'stream' }); // prettier-ignore
    expect(
      firstGauges(
        [
          ['primary', both],
          ['engine', both],
        ] as const,
        '2026-11-30',
        whole,
        { engine: null },
      ),
    ).toEqual({ primary: 'stream' });
    // One that cannot read it any more is no choice.
    expect(firstGauges([['primary', [stream]]] as const, '2026-11-30', whole, { primary: 'dial' })).toEqual({ primary: 'stream' });
  });
});
