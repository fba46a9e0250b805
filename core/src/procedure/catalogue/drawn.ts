import type { Id } from '../language';

/** Which hand-work is drawn, by procedure and by the step or item that it is done in. */
export const drawn: Readonly<Record<Id, Readonly<Record<Id, Id>>>> = {
  'suit.inflation': { diaphragms: 'cover-and-blade', covers: 'cover-and-blade', 'diaphragms-back': 'cover-and-blade', plate: 'face-plate' },
  'anaes.coaxial-d': { 'inner-end': 'inner-tube', 'bobbin-drops': 'inner-tube' },
  'anaes.mapleson-a': { 'inner-limb': 'inner-tube', 'inner-holds': 'inner-tube' },
  'brakes.whole': { 'not-crossed': 'coupling-heads', 'supply-off': 'coupling-heads', 'no-air': 'coupling-heads', marked: 'chamber-mark' },
  'brakes.strokes': { marked: 'chamber-mark' },
  'tank.ibc': { pressurise: 'needle-scale', 'pressure-on': 'needle-scale' },
};

/**
 * The drawing of a step or an item, where its hand-work is drawn.
 * @example drawnAt('suit.inflation', 'covers') // 'cover-and-blade'
 */
export const drawnAt = (procedure: Id, id: Id): Id | undefined => drawn[procedure]?.[id];
