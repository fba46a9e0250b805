import { unclaimedLetGo, type RunState } from '@grellin/core';

const EVERY_MS = 60_000;
/** Longer than any strip of what no stage claims, and than a browser beside the item is away before its beginning of a stage arrives. */
const KEEP_MS = 600_000;

/** A run after what came: once a minute of its clock, what no attempt claims is let go of, so that an instrument left streaming fills no browser. */
export function trimmed(before: RunState, after: RunState): RunState {
  return Math.floor(before.at / EVERY_MS) === Math.floor(after.at / EVERY_MS) ? after : unclaimedLetGo(after, after.at - KEEP_MS);
}
