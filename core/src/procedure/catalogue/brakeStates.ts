import type { OnSetUp, Procedure } from '../language';

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

/** What a held pressure says is only of the item while the engine makes no air, and of its brakes only while the pedal stays where it is. */
export const engineStates: States = {
  engine: {
    title: 'Engine',
    first: 'off',
    ways: { off: { said: 'Engine off', put: 'Stop the engine, key on' }, on: { said: 'Engine running', put: 'Start the engine' } },
  },
  pedal: {
    title: 'Pedal',
    first: 'up',
    ways: { up: { said: 'Pedal up', put: 'Let the pedal up' }, down: { said: 'Pedal held down', put: 'Press the pedal and hold it' } },
  },
};

/** What pulls, and what it draws: each of them is named, and owes for itself. */
export const combinationRoles: Procedure['roles'] = {
  vehicle: { classes: ['truck', 'bus', 'fire-apparatus'] },
  trailer: { classes: ['trailer'], optional: true },
  secondTrailer: { classes: ['trailer'], optional: true, title: 'second trailer' },
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

/**
 * What is needed and made by several things at once.
 * @example together({ needs: { chocks: 'in' } }, { makes: { engine: 'off' } }) // { needs: { chocks: 'in' }, makes: { engine: 'off' } }
 */
export function together(...parts: readonly OnSetUp[]): OnSetUp {
  const of = (side: 'needs' | 'makes'): OnSetUp => {
    const all = Object.assign({}, ...parts.map((p) => p[side])) as Record<string, string>;
    return Object.keys(all).length > 0 ? { [side]: all } : {};
  };
  return { ...of('needs'), ...of('makes') };
}

export const neverRolls: Never = [
  { stands: { chocks: 'out', parking: 'released' }, why: 'Nothing holds the vehicle: it rolls over whoever stands in front of it.' },
];
export const neverParted: Never = [
  { stands: { supplyLine: 'off', parking: 'released' }, why: 'An air line is parted while the brakes are not set.' },
  { stands: { serviceLine: 'off', parking: 'released' }, why: 'An air line is parted while the brakes are not set.' },
];
