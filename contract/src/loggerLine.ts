/**
 * The line protocol of the instruments (docs/logger-protocol.md): lines of ASCII over TCP, each ended by LF. Both ends use these functions.
 */

export interface Hello {
  readonly device: string;
  /** Changes when the instrument has been started anew: its clock may then have gone back. */
  readonly boot: string;
  readonly clockMs: number;
  readonly everyMs: number;
  /** Unit of each input, by name. */
  readonly inputs: Readonly<Record<string, string>>;
}

export interface DataLine {
  readonly at: number;
  readonly values: Readonly<Record<string, number>>;
}

const NAME = /^[A-Za-z][A-Za-z0-9-]{0,39}$/;
/** A line longer than this is not one of ours. */
export const LONGEST_LINE = 1024;

export function isDeviceName(text: string): boolean {
  return NAME.test(text);
}

/** `HELLO device boot clock every p1=mbar …` */
export function formatHello(h: Hello): string {
  const inputs = Object.entries(h.inputs).map(([name, unit]) => `${name}=${encodeURIComponent(unit)}`);
  return ['HELLO', h.device, h.boot, String(h.clockMs), String(h.everyMs), ...inputs].join(' ');
}

function count(text: string | undefined): number | null {
  return text !== undefined && /^\d{1,15}$/.test(text) ? Number(text) : null;
}

export function parseHello(line: string): Hello | null {
  const [word, device, boot, clock, every, ...rest] = line.split(' ');
  const clockMs = count(clock);
  const everyMs = count(every);
  if (word !== 'HELLO' || !device || !boot || clockMs === null || everyMs === null) return null;
  const inputs = rest.map((r) => r.split('='));
  return { device, boot, clockMs, everyMs, inputs: Object.fromEntries(inputs.map(([name, unit]) => [name ?? '', decodeURIComponent(unit ?? '')])) };
}

/** `D clock p1=16.52 p2=…` */
export function formatData(d: DataLine): string {
  return ['D', String(d.at), ...Object.entries(d.values).map(([name, value]) => `${name}=${value}`)].join(' ');
}

/** @returns the line's data, or null when the line is not a data line or is damaged: a damaged reading is no reading. */
export function parseData(line: string): DataLine | null {
  const [word, clock, ...rest] = line.split(' ');
  const at = count(clock);
  if (word !== 'D' || at === null) return null;
  const values: Record<string, number> = {};
  for (const part of rest) {
    const found = /^([A-Za-z][A-Za-z0-9]*)=(-?\d+(?:\.\d+)?(?:e-?\d+)?)$/.exec(part);
    if (!found) return null;
    values[found[1] ?? ''] = Number(found[2]);
  }
  return { at, values };
}
