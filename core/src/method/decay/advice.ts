import type { Reason } from '../../procedure';
import { ONE_SIDED_95 } from '../../uncertainty';
import { decimalIn } from '../../quantity';
import type { Figures, Shown } from './figures';
import type { Decision } from '../verdict/decide';
import type { ChannelInstrument } from '../evidence/record';
import { span } from '../evidence/readings';

/** A start between these shares of full scale, and a step no more than this share of the permitted loss, is what a gauge is chosen by. Common practice. */
const SCALE_LOW = 0.25;
const SCALE_HIGH = 0.9;
const STEP_SHARE = 0.1;

/**
 * What would tell, where this measurement cannot: how long the hold would have to be for the same rate, or how fine the gauge.
 * t₂ = t·1.645·u ÷ margin; a₂ = √(3/(2·(1 − r))·((margin/1.645)² − 2·u_d²)). Source: JCGM 106 turned round.
 * @param margin distance of the figure from the limit, in the unit of the uncertainty
 * @example whatWouldTell({ verdict: 'pass', conforms: 1, reasons: [] }, {}, {}, 1) // []
 */
export function whatWouldTell(decision: Decision, f: Figures, shown: Shown, margin: number): readonly Reason[] {
  const coarse = decision.reasons.some((r) => r.code === 'tooCoarse');
  if (!coarse && !decision.reasons.some((r) => r.code === 'insideGuard')) return [];
  const room = coarse ? shown.bestMargin : margin;
  if (!(room > 0) || !(shown.u > 0)) return [];
  const hold = { value: Number(((f.minutes.toNumber() * ONE_SIDED_95 * shown.u) / room).toPrecision(4)), unit: 'min' };
  const step = f.gauge.resolution / Math.sqrt(12);
  const finer =
    (3 / (2 * Math.max(1e-9, 1 - f.gauge.correlation))) * ((room * (shown.unit === f.unit ? 1 : f.start.toNumber() / 100)) / ONE_SIDED_95) ** 2 -
    (3 / Math.max(1e-9, 1 - f.gauge.correlation)) * step ** 2;
  const accuracy = finer > 0 ? { value: Number(Math.sqrt(finer).toPrecision(3)), unit: f.unit } : 'no gauge of this step';
  return [{ code: 'longerHold', values: { hold, accuracy } }];
}

/**
 * Advice on the choice of the gauge; it changes no verdict.
 * @example advice({ fitted: true }, {}, {}) // []: a fitted gauge is what it is
 */
export function advice(instrument: ChannelInstrument, f: Figures, shown: Shown): readonly Reason[] {
  if (instrument.fitted) return [];
  const full = decimalIn(instrument.high, f.unit).toNumber();
  const share = Math.abs(f.start.toNumber()) / full;
  const found: Reason[] = [];
  if (share < SCALE_LOW || share > SCALE_HIGH)
    found.push({ code: 'startOffScale', values: { share: { value: Number((100 * share).toPrecision(3)), unit: '%' } } });
  const step = span(instrument.resolution, f.unit);
  if (shown.permitted.gt(0) && step > STEP_SHARE * shown.permitted.toNumber())
    found.push({ code: 'coarseStep', values: { step: instrument.resolution, permitted: { value: Number(shown.permitted.toPrecision(6)), unit: f.unit } } });
  return found;
}
