import { grades, type Grade, type Quantity } from '@grellin/core';
import { array, bool, mixed, object } from 'yup';
import { finite, recordOf, whole, words } from './primitives';
import { parse } from './problem';
import { quantitySchema } from './quantity';

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

/** What somebody who stands by a simulated rig sees and hears. What is in order is left out. */
export interface Scene {
  readonly clockMs: number;
  /** Times real time; 0 stands still. */
  readonly speed: number;
  /** It cannot keep up with that speed: its clock goes slower, and leaves no reading out. */
  readonly behind?: boolean | undefined;
  /** What happens by itself: a warning sounds, a valve opens. */
  readonly happening: readonly string[];
  /** Items of a check that are not in order. */
  readonly wrong: readonly string[];
  /** Places that bubble, and how hard. */
  readonly bubbles: Readonly<Record<string, Grade>>;
  /** What is read by eye, by input. */
  readonly seen: Readonly<Record<string, Quantity>>;
}

export interface DataLine {
  readonly at: number;
  readonly values: Readonly<Record<string, number>>;
}

const sceneSchema = object({
  clockMs: whole(0),
  behind: bool().optional(),
  speed: finite(),
  happening: array().of(words(80)).required(),
  wrong: array().of(words(80)).required(),
  bubbles: recordOf(
    mixed<Grade>()
      .required()
      .oneOf([...grades]),
  ),
  seen: recordOf(quantitySchema),
})
  .required()
  .noUnknown();

const NAME = /^[A-Za-z][A-Za-z0-9-]{0,39}$/;
/** A line longer than this is not one of ours. */
export const LONGEST_LINE = 8192;

/** Whether a text may name a device. */
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

/** What a device says of itself; null for a line that is none. */
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

/** The answer to `LOOK`: one percent-encoded word of JSON. */
export function formatScene(scene: Scene): string {
  return encodeURIComponent(JSON.stringify(scene));
}

/** @returns the scene, or null when the word is not one */
export function parseScene(word: string): Scene | null {
  try {
    return parse(sceneSchema, JSON.parse(decodeURIComponent(word))) as Scene;
  } catch {
    return null;
  }
}
