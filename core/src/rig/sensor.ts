import type { Channel } from '../procedure';
import { baseUnits, convert, decimal, unitRow } from '../quantity';
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

/** What the sensor shows for a true value in the base unit of its kind: with its zero and noise, in whole steps of its resolution. */
export function sense(sensor: Sensor, truth: number, random: Random): readonly [number, Random] {
  const [z, next] = gaussian(random);
  const base = baseUnits[unitRow(sensor.unit)?.dimension ?? 'number'];
  const shown = convert({ value: Number(truth.toPrecision(12)), unit: base }, sensor.unit).value + sensor.zero + z * sensor.noise;
  // Steps are decimal: 0.01 · 1650 must read 16.5, not 16.500000000000004.
  return [
    decimal(Math.round(shown / sensor.resolution))
      .times(sensor.resolution)
      .toNumber(),
    next,
  ];
}

export type Sensors = Readonly<Record<Channel, Sensor>>;
