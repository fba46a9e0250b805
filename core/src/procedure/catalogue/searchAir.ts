import type { Stage } from '../language';
import { act, search } from './parts';

/** Where a vehicle's air leaks, once one of its minutes has failed: along its lines from the compressor to the chambers. */
export const searchAir: Stage = search(
  'find',
  'vehicle',
  ['static', 'applied'],
  'air-lines',
  [
    act('find-air', 'Charged again, engine off, chocked; a second person or a jack on the pedal where it fell applied', {
      needs: { chocks: 'in' },
      makes: { engine: 'off' },
    }),
  ],
  [
    ['compressor', 'Compressor line and governor'],
    ['drains', 'Tank drains and tanks'],
    ['foot-valve', 'Foot valve'],
    ['lines', 'Lines and their joints'],
    ['couplings', 'Coupling heads'],
    ['chambers', 'Each chamber, its hose and its rod’s mouth'],
  ],
);
