import { readFileSync } from 'node:fs';
import { hostname } from 'node:os';
import { v4 } from 'uuid';

/** What the clocks of one machine show at one moment. */
export interface ClockReading {
  /** Names the machine, whenever it was started. */
  readonly host: string;
  /** Names this start of the machine: steady clocks count together where the name is the same. */
  readonly start: string;
  /** Time that only ever passes, counted from the machine's start, ms. */
  readonly steadyMs: number;
  /** The hour of day, which anybody may set ahead or back, ms since 1970. */
  readonly wallMs: number;
}

/** The clocks of a machine. Tests hold their own. */
export interface Clocks {
  readonly read: () => ClockReading;
}

function firstOf(file: string, otherwise: () => string): string {
  try {
    return readFileSync(file, 'utf8').trim() || otherwise();
  } catch {
    return otherwise();
  }
}

const host = firstOf('/etc/machine-id', hostname);
/** Where the kernel says which start of the machine this is, its steady clock outlives the process; elsewhere it ends with it. */
const start = firstOf('/proc/sys/kernel/random/boot_id', v4);

export const machineClocks: Clocks = {
  read: () => ({ host, start, steadyMs: Math.floor(Number(process.hrtime.bigint()) / 1e6), wallMs: Date.now() }),
};

/** A clock for hours that must not jump: the hour when it was made, and what has passed since. */
export function steadyHours(clocks: Clocks): () => Date {
  const from = clocks.read();
  return () => new Date(from.wallMs + clocks.read().steadyMs - from.steadyMs);
}
