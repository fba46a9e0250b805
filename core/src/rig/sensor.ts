import type { Channel } from '../procedure';
import { baseUnits, convert, unitRow, type Unit } from '../quantity';
import { gaussian, type Random } from './random';

/** How a logger's input turns a true value into a reading. */
export interface Sensor {
  readonly unit: string;
  readonly resolution: number;
  /** Standard deviation of the noise, in the unit. */
  readonly noise: number;
  /** Constant error, in the unit. */
  readonly zero: number;
}

interface Scale {
  readonly factor: number;
  readonly offset: number;
}
const scales = new Map<Unit, Scale>();

/** How a unit follows from its base unit: worked out once, because a fast trace asks two hundred times a second. */
function scaleOf(unit: Unit): Scale {
  const kept = scales.get(unit);
  if (kept) return kept;
  const base = baseUnits[unitRow(unit)?.dimension ?? 'number'];
  const offset = convert({ value: 0, unit: base }, unit).value;
  const scale = { factor: convert({ value: 1, unit: base }, unit).value - offset, offset };
  scales.set(unit, scale);
  return scale;
}

/**
 * What the sensor shows for a true value in the base unit of its kind: with its zero and noise, in whole steps of its resolution.
 * @example sense({ unit: 'mbar', resolution: 0.01, noise: 0, zero: 0 }, 1650, { state: 5 })[0] // 16.5
 */
export function sense(sensor: Sensor, truth: number, random: Random): readonly [number, Random] {
  const [z, next] = gaussian(random);
  const { factor, offset } = scaleOf(sensor.unit);
  const shown = truth * factor + offset + sensor.zero + z * sensor.noise;
  // Steps are decimal: 0.01 · 1650 must read 16.5, not 16.500000000000004.
  return [Number((Math.round(shown / sensor.resolution) * sensor.resolution).toPrecision(12)), next];
}

export type Sensors = Readonly<Record<Channel, Sensor>>;
