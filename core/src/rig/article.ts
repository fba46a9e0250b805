import type { Id } from '../procedure';
import type { Rig } from './rig';

/** Things that are only looked at: what each seeded defect would be found by. */
const defects: Readonly<Record<string, readonly Id[]>> = {
  none: [],
  dent: ['dents'],
  'heat mark': ['heat'],
  'pitting inside': ['walls'],
  'worn threads': ['threads'],
  'past its life': ['within-life'],
  'stiff vaporiser dial': ['dial'],
  'gas escapes behind': ['bobbin-drops', 'bulb-off'],
  'vaporiser seat': ['bulb-stays'],
  'oil pressure fails': ['oil'],
  'wheel play': ['wheel-play'],
  'relief valve stuck': ['relief-works'],
};

export interface ArticleState {
  readonly wrong: readonly Id[];
}

/** An item on a bench that nothing is measured of. */
export const articleRig: Rig<ArticleState> = {
  id: 'article',
  title: 'Item to be looked at',
  inputs: [],
  actions: [],
  faults: Object.keys(defects),
  make: (name) => {
    const wrong = defects[name];
    if (!wrong) throw new RangeError(`there is no defect ${name}`);
    return { wrong };
  },
  step: (s) => s,
  act: (_, { act }) => {
    throw new RangeError(`nothing can be done to it: ${act}`);
  },
  values: () => ({}),
  signs: (s) => ({ wrong: new Set(s.wrong), bubbles: {} }),
};
