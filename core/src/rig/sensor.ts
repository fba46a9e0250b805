import type { Channel } from '../procedure';
import { convert, decimal } from '../quantity';
import { gaussian, type Random } from './random';

/** How a logger's input turns a true pressure into a reading. */
export interface Sensor {
  readonly unit: string;
  readonly resolution: number;
  /** Standard deviation of the noise, in the unit. */
  readonly noise: number;
  /** Constant error, in the unit. */
  readonly zero: number;
}

/** What the sensor shows for a pressure: with its zero and noise, in whole steps of its resolution. */
export function sense(sensor: Sensor, pressurePa: number, random: Random): readonly [number, Random] {
  const [z, next] = gaussian(random);
  const shown = convert({ value: Number(pressurePa.toPrecision(12)), unit: 'Pa' }, sensor.unit).value + sensor.zero + z * sensor.noise;
  // Steps are decimal: 0.01 · 1650 must read 16.5, not 16.500000000000004.
  return [
    decimal(Math.round(shown / sensor.resolution))
      .times(sensor.resolution)
      .toNumber(),
    next,
  ];
}

export type Sensors = Readonly<Record<Channel, Sensor>>;
