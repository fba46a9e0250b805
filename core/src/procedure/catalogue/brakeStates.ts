import type { Procedure } from '../language';

type States = NonNullable<Procedure['states']>;
type Never = NonNullable<Procedure['never']>;

/** What keeps a vehicle where it stands. It comes on its parking brake, without chocks. */
export const brakeStates: States = {
  chocks: {
    title: 'Chocks',
    first: 'out',
    ways: { out: { said: 'Chocks out', put: 'Take the chocks out' }, in: { said: 'Chocks in', put: 'Put the chocks in' } },
  },
  parking: {
    title: 'Parking brake',
    first: 'set',
    ways: { set: { said: 'Parking brake set', put: 'Set the parking brake' }, released: { said: 'Parking brake released', put: 'Release the parking brake' } },
  },
};

/** The air lines to a trailer. */
export const lineStates: States = {
  supplyLine: {
    title: 'Supply line',
    first: 'on',
    ways: { on: { said: 'Supply line on', put: 'Couple the supply line' }, off: { said: 'Supply line off', put: 'Uncouple the supply line' } },
  },
  serviceLine: {
    title: 'Service line',
    first: 'on',
    ways: { on: { said: 'Service line on', put: 'Couple the service line' }, off: { said: 'Service line off', put: 'Uncouple the service line' } },
  },
};

export const neverRolls: Never = [
  { stands: { chocks: 'out', parking: 'released' }, why: 'Nothing holds the vehicle: it rolls over whoever stands in front of it.' },
];
export const neverParted: Never = [
  { stands: { supplyLine: 'off', parking: 'released' }, why: 'An air line is parted while the brakes are not set.' },
  { stands: { serviceLine: 'off', parking: 'released' }, why: 'An air line is parted while the brakes are not set.' },
];
