import type { AssetRow, InstrumentRow } from '@grellin/contract';
import { channelsRead, factsOf, mustBeFitted, sameDimension, type Procedure } from '@grellin/core';

/** Whether an instrument could stand for a channel of this procedure on this asset. */
export function fits(i: InstrumentRow, procedure: Procedure, channel: string, asset: AssetRow): boolean {
  const unit = procedure.channels[channel]?.unit ?? '';
  // What a rig simulates says nothing of a real item.
  return sameDimension(i.low.unit, unit) && (i.fittedTo === null || i.fittedTo === asset.id) && (!i.simulated || asset.practice);
}

/** The gauge that somebody picked for a channel, or null for none. */
export type Picked = Readonly<Record<string, string | null>>;

/**
 * A gauge for each channel to begin with: one that streams and is in calibration, two inputs of one device where there are two channels, else what is
 * fitted to the item, else the first that fits. What need not be read begins with what is fitted to the item or is on the same device, else with nothing: no gauge of
 * another rig stands for this one's engine. One instrument stands in one place, but where it is read at one place after the other: a rule goes from rod to rod.
 */
export function firstGauges(
  channels: readonly (readonly [string, readonly InstrumentRow[]])[],
  today: string,
  procedure?: Procedure,
  picked: Picked = {},
): Readonly<Record<string, string>> {
  const chosen: Record<string, InstrumentRow> = {};
  // What somebody picked stays while it can read the channel: nothing else is put in its place, nor on a second channel beside it.
  for (const [channel, fitting] of channels) {
    const own = fitting.find((i) => i.id === picked[channel]);
    if (own) chosen[channel] = own;
  }
  const rods = new Set(procedure?.stages.flatMap((s) => (factsOf(s.method).oneAtATime ? channelsRead(s.method) : [])));
  for (const [channel, fitting] of channels) {
    if (chosen[channel] || picked[channel] === null) continue;
    const taken = Object.values(chosen);
    const free = fitting.filter((i) => !taken.includes(i));
    const device = taken.find((i) => i.device !== null)?.device;
    const good = free.filter((i) => i.streams && i.inUseBy === null && i.calibrationDue !== null && i.calibrationDue >= today);
    const beside = good.find((i) => device !== undefined && i.device === device);
    const own = free.find((i) => i.fittedTo !== null);
    const needed = rods.has(channel) || !procedure || mustBeFitted(procedure, channel, (c) => chosen[c] !== undefined);
    const pick =
      (needed ? (beside ?? good[0] ?? own ?? free[0]) : (beside ?? own)) ??
      (rods.has(channel) ? fitting.find((i) => Object.entries(chosen).some(([c, has]) => has === i && rods.has(c))) : undefined);
    if (pick) chosen[channel] = pick;
  }
  return Object.fromEntries(Object.entries(chosen).map(([channel, i]) => [channel, i.id]));
}
