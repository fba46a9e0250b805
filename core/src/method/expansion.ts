import { findingOf, lacking, type Finding } from './verdict/finding';
import { waterCompression, weighedWater } from '../physics';
import { figureOf, strict, WORKING_READ, type Channel, type ExpansionMethod, type Id, type Measure, type Reason } from '../procedure';
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

/** Water between which a balance's weight is a volume, °C. */
const [COLDEST, WARMEST] = [0, 40];

/** What shows the water: the burette, the balance, or both. */
function scalesOf({ method, instruments }: At): readonly Channel[] {
  const fitted = [method.water, method.scale].filter((c): c is Channel => c !== undefined && instruments[c] !== undefined);
  return fitted.length > 0 ? fitted : [method.water];
}

/** How many mL one unit of a scale's reading is: more than a constant only where water is weighed. */
function millilitres(at: At, channel: Channel, unit: string, when: number): number | Reason {
  if (channel !== at.method.scale) return span({ value: 1, unit }, 'mL');
  const warmth = at.method.temperature === undefined ? undefined : readingAt(at.record, at.method.temperature, when);
  if (!warmth) return { code: 'noReading', values: { channel: at.method.temperature ?? 'temperature' } };
  const celsius = decimalIn(warmth, 'Cel').toNumber();
  if (celsius < COLDEST || celsius > WARMEST) return { code: 'notWater', values: { value: { value: warmth.value, unit: warmth.unit } } };
  return weighedWater(span({ value: 1, unit }, 'g'), celsius);
}

/** The water that a scale showed at a moment, as a volume. */
function volumeAt(at: At, channel: Channel, when: number): Reading | Reason | undefined {
  const reading = readingAt(at.record, channel, when);
  if (!reading || channel !== at.method.scale) return reading;
  const each = millilitres(at, channel, reading.unit, when);
  return typeof each === 'number' ? { ...reading, value: Number((reading.value * each).toPrecision(8)), unit: 'mL' } : each;
}

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
  const { record } = at;
  const unmet = stepsUnmet(at, when) ?? releasedUnmet(at, when);
  if (unmet) return unmet;
  // Burette and balance, each for this cylinder.
  for (const channel of scalesOf(at)) {
    const water = readingAt(record, channel, when);
    const instrument = at.instruments[channel];
    if (!water || !instrument) return { code: 'noReading', values: { channel } };
    const step = span(instrument.resolution, water.unit);
    if (Math.abs(water.value) > step * (1 + 1e-9)) return { code: 'notZeroed', values: { value: { value: water.value, unit: water.unit } } };
  }
  return null;
}

/** Why the expansion at the working pressure may not be read: the needle is not there, or no scale was. */
function workingUnmet(at: At, when: number): Reason | null {
  const { plan, method, record } = at;
  if (!method.working) return null;
  const outside = windowUnmet('notReached', record, method.pressure, figureOf(plan, method.working.low), figureOf(plan, method.working.high), when);
  return outside ?? waterUnread(at, when);
}

/** A scale, or the thermometer that its weight hangs on, that was not read. */
function waterUnread(at: At, when: number): Reason | null {
  for (const channel of scalesOf(at)) {
    const water = volumeAt(at, channel, when);
    if (!water) return { code: 'noReading', values: { channel } };
    if ('code' in water) return water;
  }
  return null;
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
  return waterUnread(at, when);
}

interface Mark {
  readonly mark: Id;
  readonly text: string;
  readonly unmet: (at: At, when: number) => Reason | null;
}

const always: readonly Mark[] = [
  { mark: ZEROED, text: 'No pressure on: top up and set the water scale to zero', unmet: zeroedUnmet },
  { mark: TOTAL, text: 'Read the total expansion', unmet: totalUnmet },
  { mark: PERMANENT, text: 'Let the pressure down and read what stays', unmet: (at, when) => releasedUnmet(at, when) ?? waterUnread(at, when) },
];
const onTheWayUp: Mark = { mark: WORKING_READ, text: 'On the way up, at the working pressure: read the expansion', unmet: workingUnmet };
const marksOf = ({ method }: At): readonly Mark[] => always.flatMap((m) => (m.mark === TOTAL && method.working ? [onTheWayUp, m] : [m]));

function startUnmet(at: At, when: number): Reason | null {
  const { low, high } = testWindow(at);
  return windowUnmet('startOutside', at.record, at.method.pressure, low, high, when);
}

/**
 * @example expansionTask(exampleOf('cyl.water-jacket', 'expand').at).kind // 'end'
 */
export function expansionTask(at: At): Task {
  const { plan, method, record } = at;
  for (const { mark, text, unmet } of marksOf(at)) {
    if (markAt(record, mark) !== undefined) continue;
    if (mark === TOTAL) {
      const since = markAt(record, START);
      if (since === undefined) return { kind: 'start', ...testWindow(at), on: [method.pressure], unmet: (when) => startUnmet(at, when) };
      const until = since + milliseconds(figureOf(plan, method.hold));
      const read = scalesOf(at).every((c) => (readingsOn(record, c).at(-1)?.at ?? 0) >= until);
      if (!read) return { kind: 'hold', since, until };
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
    const found = when === undefined ? undefined : volumeAt(at, channel, when);
    return found && 'code' in found ? undefined : found;
  };
  const [scale = method.water] = scalesOf(at);
  const [total, pressure, permanent] = [read(scale, TOTAL), read(method.pressure, TOTAL), read(scale, PERMANENT)];
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
  for (const { mark, text, unmet } of marksOf(at)) {
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
  return scalesOf(at).flatMap((channel) => judgedOn(at, channel));
}

/** The expansion by one scale: a volume, and what a balance weighed of it. */
function judgedOn(at: At, channel: Channel): readonly Finding[] {
  const { plan, stage, method, record } = at;
  const found = (verdict: Finding['verdict'], reason: Reason): readonly Finding[] => [findingOf(at, EXPANSION_EDITION, channel, verdict, [reason])];
  const gauge = usableInstrument(at, method.pressure);
  const instrument = usableInstrument(at, channel);
  const unmet = marksUnmet(at);
  if (unmet) {
    const { verdict, reason } = lacking(record, unmet);
    return found(verdict, reason);
  }
  if (isReason(gauge)) return found('void', gauge);
  if (isReason(instrument)) return found('void', instrument);
  const atMark = (mark: Id): Reading | Reason => volumeAt(at, channel, markAt(record, mark) ?? 0) ?? { code: 'noReading', values: { channel } };
  const [total, permanent] = [atMark(TOTAL), atMark(PERMANENT)];
  const pressure = readingAt(record, method.pressure, markAt(record, TOTAL) ?? 0);
  if ('code' in total) return found('void', total);
  if ('code' in permanent) return found('void', permanent);
  if (!pressure) return found('void', { code: 'noReading', values: { channel: method.pressure } });
  const e = expansionsOf(at, total, permanent, pressure);
  if ('code' in e) return found('void', e);
  // A balance's errors are in what it weighs: as much of a volume as that is.
  const own = instrument.resolution.unit;
  const each = channel === method.scale ? millilitres(at, channel, own, markAt(record, TOTAL) ?? 0) : span({ value: 1, unit: own }, e.unit);
  if (typeof each !== 'number') return found('void', each);
  const u = uReading(instrument, own) * each;
  if (strict(plan) && e.permanent.lt(-Math.max(span(instrument.resolution, own) * each, CAN_ERR * u)))
    return found('void', { code: 'shrank', values: { value: { value: e.permanent.toNumber(), unit: e.unit } } });
  const q = (v: Decimal, unit = e.unit): Quantity => ({ value: significant(v).toNumber(), unit });
  const working = method.working ? markAt(record, WORKING_READ) : undefined;
  const atWorking = working === undefined ? undefined : volumeAt(at, channel, working);
  const weighed = channel === method.scale ? readingAt(record, channel, markAt(record, TOTAL) ?? 0) : undefined;
  const taken: Record<Id, Quantity> = {
    ...(e.compression > 0 ? { read: q(e.read), compression: { value: e.compression, unit: e.unit } } : {}),
    ...(atWorking && !('code' in atWorking) ? { working: { value: Number(atWorking.value.toPrecision(5)), unit: atWorking.unit } } : {}),
    ...(weighed ? { weighed: { value: weighed.value, unit: weighed.unit } } : {}),
  };
  return limitsOn(plan, stage.id, channel).flatMap((limit) => {
    const shown = shownAs(at, limit.of, e, u);
    if (!shown) return [];
    return [
      judgeValue(at, EXPANSION_EDITION, channel, limit, {
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
