import { findingOf, lacking, type Finding } from './verdict/finding';
import { waterCompression } from '../physics';
import { figureOf, strict, type Channel, type ExpansionMethod, type Id, type Measure, type Reason } from '../procedure';
import { decimal, decimalIn, significant, type Decimal, type Quantity } from '../quantity';
import { CAN_ERR } from '../uncertainty';
import { isReason, usableInstrument, type Attempted } from './evidence/attempted';
import type { Reading } from './evidence/reading';
import { readingAt, readingsBetween, readingsOn, span, uReading } from './evidence/readings';
import { markAt, milliseconds, START, stepsUnmet, windowUnmet } from './evidence/steps';
import type { Task } from './evidence/task';
import { judgeValue, limitsOn } from './verdict/value';

/** The edition of this method. */
export const EXPANSION_EDITION = 'expansion/1';

type At = Attempted<ExpansionMethod>;

/** Marks in their order: the scale zeroed at no pressure, the test pressure reached, the total read, the permanent read. */
export const ZEROED = 'zeroed';
export const TOTAL = 'total-read';
export const PERMANENT = 'permanent-read';

/** Released means less than this share of the test pressure is left. Common practice. */
const RELEASED_SHARE = 0.01;

/** The test pressure of this attempt: raised for a repeat, where the rule set says so. */
function testWindow(at: At): { readonly low: Quantity; readonly high: Quantity } {
  const { low, high, repeatLow, repeatHigh } = at.method.test;
  const repeat = at.record.attempt > 1 && repeatLow !== undefined && repeatHigh !== undefined;
  return { low: figureOf(at.plan, repeat ? repeatLow : low), high: figureOf(at.plan, repeat ? repeatHigh : high) };
}

function releasedUnmet(at: At, when: number): Reason | null {
  const reading = readingAt(at.record, at.method.pressure, when);
  if (!reading) return { code: 'noReading', values: { channel: at.method.pressure } };
  const { low } = testWindow(at);
  const most = decimalIn(low, reading.unit).times(RELEASED_SHARE);
  const zero = { value: 0, unit: reading.unit };
  return decimal(reading.value).gt(most)
    ? { code: 'notReached', values: { value: { value: reading.value, unit: reading.unit }, low: zero, high: { value: most.toNumber(), unit: reading.unit } } }
    : null;
}

function zeroedUnmet(at: At, when: number): Reason | null {
  const { method, record } = at;
  const unmet = stepsUnmet(at, when) ?? releasedUnmet(at, when);
  if (unmet) return unmet;
  const water = readingAt(record, method.water, when);
  const instrument = at.instruments[method.water];
  if (!water || !instrument) return { code: 'noReading', values: { channel: method.water } };
  const step = span(instrument.resolution, water.unit);
  return Math.abs(water.value) > step * (1 + 1e-9) ? { code: 'notZeroed', values: { value: { value: water.value, unit: water.unit } } } : null;
}

/** Why the total may not be read: the hold is not over, the pressure sank below the test pressure, or the water still moves. */
function totalUnmet(at: At, when: number): Reason | null {
  const { plan, method, record } = at;
  const since = markAt(record, START);
  if (since === undefined) return { code: 'holdShort', values: {} };
  const wanted = figureOf(plan, method.hold);
  if (when - since < milliseconds(wanted)) return { code: 'waitShort', values: { waited: { value: (when - since) / 1000, unit: 's' }, wanted } };
  const { low, high } = testWindow(at);
  const sank = readingsBetween(record, method.pressure, since, when).find((r) => decimalIn(r, low.unit).lt(low.value));
  if (sank) return { code: 'notReached', values: { value: { value: sank.value, unit: sank.unit }, low, high } };
  return readingAt(record, method.water, when) ? null : { code: 'noReading', values: { channel: method.water } };
}

const marks: readonly { readonly mark: Id; readonly text: string; readonly unmet: (at: At, when: number) => Reason | null }[] = [
  { mark: ZEROED, text: 'No pressure on: top up and set the water scale to zero', unmet: zeroedUnmet },
  { mark: TOTAL, text: 'Read the total expansion', unmet: totalUnmet },
  { mark: PERMANENT, text: 'Let the pressure down and read what stays', unmet: releasedUnmet },
];

function startUnmet(at: At, when: number): Reason | null {
  const { low, high } = testWindow(at);
  return windowUnmet('startOutside', at.record, at.method.pressure, low, high, when);
}

/**
 * @example expansionTask(exampleOf('cyl.water-jacket', 'expand').at).kind // 'end'
 */
export function expansionTask(at: At): Task {
  const { plan, method, record } = at;
  for (const { mark, text, unmet } of marks) {
    if (markAt(record, mark) !== undefined) continue;
    if (mark === TOTAL) {
      const since = markAt(record, START);
      if (since === undefined) return { kind: 'start', ...testWindow(at), on: [method.pressure], unmet: (when) => startUnmet(at, when) };
      const until = since + milliseconds(figureOf(plan, method.hold));
      const last = readingsOn(record, method.water).at(-1);
      if (!last || last.at < until) return { kind: 'hold', since, until };
    }
    return { kind: 'mark', mark, text, on: [], unmet: (when) => unmet(at, when) };
  }
  return { kind: 'end' };
}

interface Expansions {
  readonly total: Decimal;
  readonly permanent: Decimal;
  /** Per cent of the total that stayed. */
  readonly percent: Decimal;
  readonly elastic: Decimal;
  readonly unit: string;
  /** Water's own compression that was taken off, in `unit`; nothing in a jacket. */
  readonly compression: number;
  /** What the scale showed at test pressure. */
  readonly read: Decimal;
}

function expansionsOf(at: At, total: Reading, permanent: Reading, pressure: Reading): Expansions | Reason {
  const { plan, method, record } = at;
  const unit = total.unit;
  const read = decimal(total.value);
  let compression = 0;
  if (method.rig === 'direct') {
    const temperature = method.temperature === undefined ? undefined : readingAt(record, method.temperature, total.at);
    if (!temperature || method.mass === undefined) return { code: 'noReading', values: { channel: method.temperature ?? 'temperature' } };
    const forced = span({ value: total.value, unit }, 'mL');
    const celsius = decimalIn(temperature, 'Cel').toNumber();
    if (celsius < 6 || celsius > 26) return { code: 'outOfTable', values: { value: { value: temperature.value, unit: temperature.unit } } };
    // One gram to the cubic centimetre: the table's own assumption.
    const mass = decimalIn(figureOf(plan, method.mass), 'kg').toNumber() + forced / 1000;
    compression = span({ value: waterCompression(mass, decimalIn(pressure, 'bar').toNumber(), celsius), unit: 'mL' }, unit);
  }
  const expansion = read.minus(Number(compression.toPrecision(15)));
  const stays = decimalIn(permanent, unit);
  if (expansion.lte(0)) return { code: 'noExpansion', values: { value: { value: total.value, unit } } };
  return { total: expansion, permanent: stays, percent: stays.div(expansion).times(100), elastic: expansion.minus(stays), unit, compression, read };
}

/** What an expansion has come to so far: the permanent part and what follows from it only once the pressure is down. */
export interface ExpansionSoFar {
  readonly total: Quantity;
  readonly permanent: Quantity | null;
  readonly elastic: Quantity | null;
  readonly percent: Quantity | null;
}

/**
 * For the screen while the stage is under way; null before the total is read. The verdict comes from `judgeExpansion` alone.
 * @example expansionSoFar(exampleOf('cyl.water-jacket', 'expand').at) !== null // true
 */
export function expansionSoFar(at: At): ExpansionSoFar | null {
  const { method, record } = at;
  const read = (channel: Channel, mark: Id): Reading | undefined => {
    const when = markAt(record, mark);
    return when === undefined ? undefined : readingAt(record, channel, when);
  };
  const [total, pressure, permanent] = [read(method.water, TOTAL), read(method.pressure, TOTAL), read(method.water, PERMANENT)];
  if (!total || !pressure) return null;
  const e = expansionsOf(at, total, permanent ?? { ...total, value: 0 }, pressure);
  if ('code' in e) return null;
  const q = (v: Decimal, unit = e.unit): Quantity => ({ value: significant(v).toNumber(), unit });
  const after = <T>(v: T): T | null => (permanent ? v : null);
  return { total: q(e.total), permanent: after(q(e.permanent)), elastic: after(q(e.elastic)), percent: after(q(e.percent, '%')) };
}

/** What each measure is in an expansion, and how uncertain, in the unit of the water scale or in per cent. */
function shownAs(at: At, of: Measure, e: Expansions, u: number): { readonly observed: Decimal; readonly unit: string; readonly u: number } | null {
  const total = e.total.toNumber();
  switch (of) {
    case 'percent':
      return { observed: significant(e.percent), unit: '%', u: (100 / total) * Math.hypot(1, e.permanent.toNumber() / total) * u };
    case 'elastic':
      return { observed: significant(e.elastic), unit: e.unit, u: u * Math.SQRT2 };
    case 'total':
      return { observed: significant(e.total), unit: e.unit, u };
    case 'permanent':
      return { observed: significant(e.permanent), unit: e.unit, u };
    case 'deviation': {
      if (at.method.certificate === undefined) return null;
      const named = decimalIn(figureOf(at.plan, at.method.certificate), e.unit);
      return { observed: significant(e.total.minus(named).abs().div(named).times(100)), unit: '%', u: (100 * u) / named.toNumber() };
    }
    default:
      return null;
  }
}

/** The marks were made when they could be: asked again of the history. */
function marksUnmet(at: At): Reason | null {
  let before = at.record.beganAt;
  for (const { mark, text, unmet } of marks) {
    const when = markAt(at.record, mark);
    if (when === undefined) return { code: 'stepSkipped', values: { step: text } };
    if (when < before) return { code: 'outOfOrder', values: { step: text } };
    const reason = unmet(at, when);
    if (reason) return reason;
    before = when;
  }
  const since = markAt(at.record, START);
  return since === undefined ? { code: 'holdShort', values: {} } : startUnmet(at, since);
}

/**
 * Judges an expansion: what a cylinder grew under test pressure, what of it stayed, and the share of it in per cent. In a jacket the scale shows both; with
 * water forced straight in, the water's own compression is taken off first, because leaving it in makes the share too small.
 * Source: 49 CFR 180.205; CGA C-1; ISO 6406:2005 and EN 1968 for the direct method; from memory.
 * @example total 150.0 mL, permanent 9.5 mL: 6.33 %, pass at ≤ 10 %
 */
export function judgeExpansion(at: At): readonly Finding[] {
  const { plan, stage, method, record } = at;
  const found = (verdict: Finding['verdict'], reason: Reason): readonly Finding[] => [findingOf(at, EXPANSION_EDITION, method.water, verdict, [reason])];
  const gauge = usableInstrument(at, method.pressure);
  const instrument = usableInstrument(at, method.water);
  const unmet = marksUnmet(at);
  if (unmet) {
    const { verdict, reason } = lacking(record, unmet);
    return found(verdict, reason);
  }
  if (isReason(gauge)) return found('void', gauge);
  if (isReason(instrument)) return found('void', instrument);
  const total = readingAt(record, method.water, markAt(record, TOTAL) ?? 0);
  const permanent = readingAt(record, method.water, markAt(record, PERMANENT) ?? 0);
  const pressure = readingAt(record, method.pressure, markAt(record, TOTAL) ?? 0);
  if (!total || !permanent || !pressure) return found('void', { code: 'noReading', values: { channel: method.water } });
  const e = expansionsOf(at, total, permanent, pressure);
  if ('code' in e) return found('void', e);
  const u = uReading(instrument, e.unit);
  if (strict(plan) && e.permanent.lt(-Math.max(span(instrument.resolution, e.unit), CAN_ERR * u)))
    return found('void', { code: 'shrank', values: { value: { value: e.permanent.toNumber(), unit: e.unit } } });
  const q = (v: Decimal, unit = e.unit): Quantity => ({ value: significant(v).toNumber(), unit });
  return limitsOn(plan, stage.id, method.water).flatMap((limit) => {
    const shown = shownAs(at, limit.of, e, u);
    if (!shown) return [];
    const taken: Record<Id, Quantity> = e.compression > 0 ? { read: q(e.read), compression: { value: e.compression, unit: e.unit } } : {};
    return [
      judgeValue(at, EXPANSION_EDITION, method.water, limit, {
        ...shown,
        best: limit.of === 'percent' || limit.of === 'permanent' || limit.of === 'deviation' ? 0 : null,
        fitted: instrument.fitted,
        correlation: instrument.correlation,
        reasons: [
          {
            code: 'expansion',
            values: {
              total: q(e.total),
              permanent: q(e.permanent),
              elastic: q(e.elastic),
              percent: q(e.percent, '%'),
              limit: limit.resolved,
              of: limit.of,
              ...taken,
            },
          },
        ],
        evidence: [total.event, permanent.event],
      }),
    ];
  });
}
