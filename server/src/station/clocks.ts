import { readFileSync } from 'node:fs';
import { v4 } from 'uuid';

/** What the clocks of one machine show at one moment. */
export interface ClockReading {
  /** Names the machine since it was started: steady clocks count together where the name is the same. */
  readonly machine: string;
  /** Time that only ever passes, counted from the machine's start, ms. */
  readonly steadyMs: number;
  /** The hour of day, which anybody may set ahead or back, ms since 1970. */
  readonly wallMs: number;
}

/** The clocks of a machine. Tests hold their own. */
export interface Clocks {
  readonly read: () => ClockReading;
}

/** Where the kernel says which start of the machine this is, its steady clock outlives the process; elsewhere it ends with it. */
function startOfMachine(): string {
  try {
    return readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim();
  } catch {
    return v4();
  }
}

const machine = startOfMachine();

export const machineClocks: Clocks = {
  read: () => ({ machine, steadyMs: Math.floor(Number(process.hrtime.bigint()) / 1e6), wallMs: Date.now() }),
};

/** A clock for hours that must not jump: the hour when it was made, and what has passed since. */
export function steadyHours(clocks: Clocks): () => Date {
  const from = clocks.read();
  return () => new Date(from.wallMs + clocks.read().steadyMs - from.steadyMs);
}
