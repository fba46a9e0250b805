import type { Procedure, Words } from '../language';

type States = NonNullable<Procedure['states']>;

/** What stands one way or another while something is held: what feeds it, and what would let it go. */

/**
 * What fills a thing, as it is shut off before the thing is watched: what still flows in makes up for what is lost.
 * @example supplyStates('Nitrogen').supply?.ways['off']?.said // 'Nitrogen off'
 */
export const supplyStates = (name: Words): States => ({
  supply: {
    title: name,
    first: 'off',
    ways: { off: { said: `${name} off`, put: `Shut the ${name.toLowerCase()} off` }, on: { said: `${name} on`, put: `Turn the ${name.toLowerCase()} on` } },
  },
});

/** A set's cylinder feeds what leaks: shut, only what is in the line is left. */
export const cylinderStates: States = {
  cylinder: {
    title: 'Cylinder',
    first: 'shut',
    ways: { shut: { said: 'Cylinder shut', put: 'Shut the cylinder' }, open: { said: 'Cylinder open', put: 'Open the cylinder slowly' } },
  },
};

export const circuitStates: States = {
  relief: {
    title: 'Relief valve',
    first: 'open',
    ways: {
      open: { said: 'Relief valve open', put: 'Open the relief valve' },
      shut: { said: 'Relief valve shut', put: 'Shut the relief valve as the rule says' },
    },
  },
  ...supplyStates('Flow'),
};

/** What protects a tank is out while a gauge sits in its place: it never leaves so. */
export const reliefStates: States = {
  reliefValve: {
    title: 'Relief valve',
    first: 'in',
    ways: {
      in: { said: 'Relief valve in', put: 'Blank out, relief valve back' },
      out: { said: 'Relief valve out, its place blanked', put: 'Relief valve out, its place blanked' },
    },
  },
};

export const flows = { makes: { supply: 'on' } } as const;
export const shutOff = { makes: { supply: 'off' } } as const;
export const watched = { needs: { supply: 'off' } } as const;
export const lineOnly = { needs: { cylinder: 'shut' } } as const;
