import type { Quantity } from '../../quantity';
import type { Channel, Condition, Id, Words } from '../term';
import { byHand, type MethodFacts } from './facts';

export interface Axle {
  readonly id: Id;
  readonly title: Words;
  readonly left: Channel;
  readonly right: Channel;
  readonly when?: Condition;
}

/** Push-rod strokes, side by side. */
export interface StrokeMethod {
  readonly kind: 'stroke';
  readonly axles: readonly Axle[];
}

export interface StrokeReasons {
  stroke: { readonly observed: Quantity; readonly limit: Quantity; readonly op: Words; readonly axle: Words };
  strokeDifference: { readonly left: Quantity; readonly right: Quantity; readonly observed: Quantity; readonly limit: Quantity; readonly axle: Words };
}

export const strokeFacts: MethodFacts<StrokeMethod> = {
  measures: { stroke: 'length', difference: 'length' },
  measured: true,
  oneAtATime: true,
  reads: (m) => m.axles.flatMap((a) => [a.left, a.right]),
  figures: () => [],
  minutes: byHand,
};
