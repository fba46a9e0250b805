import { milliseconds } from '../method';
import { factsOf, figureOf, type Channel, type Id, type Plan, type ResolvedLimit } from '../procedure';
import { decimal, decimalIn, unitRow, type Unit } from '../quantity';

/** The corridor between the start pressure and the limit, in the stage's unit. */
export interface Wedge {
  /** The lowest pressure that may be left at the end of the hold. */
  readonly limit: number;
  /** The loss that the limit permits. */
  readonly permitted: number;
}

/**
 * The allowance wedge of a channel for a given start reading: the tightest of the stage's limits on what is lost by the end of the hold. Only the
 * end reading decides; a curve that just passes runs below the chord on its way.
 * @param start start reading in `unit`
 * @returns null for a channel that is recorded only
 * @example allowanceWedge(exampleOf('suit.inflation', 'inflate').plan, 'inflate', 'suit', 4, "[in_i'H2O]") // { permitted: 0.8, limit: 3.2 }
 */
export function allowanceWedge(plan: Plan, stageId: Id, channel: Channel, start: number, unit: Unit): Wedge | null {
  const stage = plan.stages.find((s) => s.id === stageId);
  const hold = stage && factsOf(stage.method).trace?.(stage.method).hold;
  if (hold === undefined) return null;
  const minutes = milliseconds(figureOf(plan, hold)) / 60_000;
  // Graduations of a dial are no pressure until the dial is known: no corridor is drawn for them.
  const drawn = (l: ResolvedLimit): boolean => l.of === 'ratio' || unitRow(l.resolved.unit)?.dimension === 'pressure';
  const limits = plan.limits.filter((l) => l.stage === stageId && l.of !== 'firstDrop' && (l.channel ?? channel) === channel && drawn(l));
  const permitted = limits.map((l) => {
    if (l.of === 'ratio')
      return decimal(start)
        .times(decimal(100).minus(decimalIn(l.resolved, '%')))
        .div(100)
        .toNumber();
    const figure = decimalIn(l.resolved, unit).toNumber();
    if (l.of === 'end') return decimal(start).minus(figure).toNumber();
    return l.of === 'lossPerMinute' ? figure * minutes : figure;
  });
  if (permitted.length === 0) return null;
  const least = Math.min(...permitted);
  return { permitted: least, limit: start - least };
}
