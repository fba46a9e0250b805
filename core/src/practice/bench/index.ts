import { anaesthesia } from './anaesthesia';
import { brakes } from './brakes';
import { breathing } from './breathing';
import { cylinders } from './cylinders';
import { stores } from './stores';
import { suits } from './suits';
import { tanks } from './tanks';
import { valves } from './valves';
import type { Benches } from './bench';

/** The benches of each trade. */
export const trades = { breathing, suits, anaesthesia, brakes, cylinders, tanks, valves, stores } as const;

/** Every procedure's bench, in the order of the catalogue. */
export const benches: Benches = Object.assign({}, ...Object.values(trades)) as Benches;

export type { Bench, Benches, Gauge, HandMove, Truth } from './bench';
