import type { Id } from '../procedure';
import { decimalIn, type Quantity } from '../quantity';
import type { RigAction } from './rig';

/** What a practised hand does at a step, as data: `aim` is filled in from the step's window. */
export interface HandMove {
  readonly act: string;
  readonly aim?: 'low' | 'middle';
}

/** By procedure: the rig that stands for its items, and the moves by step; a stage's own name stands for what is done before it begins. */
const hands: Readonly<Record<Id, { readonly rig: string; readonly moves: Readonly<Record<Id, readonly HandMove[]>> }>> = {
  'suit.inflation': {
    rig: 'suit',
    moves: {
      blank: [{ act: 'blank' }],
      'rig-pressure': [{ act: 'fill', aim: 'middle' }],
      'rig-settle': [{ act: 'keep', aim: 'middle' }],
      connect: [{ act: 'join' }],
      fill: [{ act: 'fill', aim: 'middle' }],
      settle: [{ act: 'keep', aim: 'middle' }],
      'let-down': [{ act: 'trim', aim: 'middle' }],
      trim: [{ act: 'trim', aim: 'middle' }],
      start: [{ act: 'shut' }],
      aftercare: [{ act: 'bleed' }],
    },
  },
  'brakes.applied-loss': {
    rig: 'air-brakes',
    moves: {
      charge: [{ act: 'engine on' }],
      'engine-off': [{ act: 'engine off' }],
      release: [{ act: 'release' }],
      recharge: [{ act: 'let up' }, { act: 'engine on' }],
      pedal: [{ act: 'engine off' }, { act: 'release' }, { act: 'press' }],
      aftercare: [{ act: 'park' }, { act: 'let up' }],
    },
  },
};

/** The rig that simulates what a procedure tests, if there is one. */
export function rigFor(procedure: Id): string | undefined {
  return hands[procedure]?.rig;
}

/**
 * The rig actions that carry out a step, with the aim inside its window. They serve the practice rig's one-press hand, the demo and the samples alike.
 * @param window the pressures that the step must reach, where it has one
 */
export function handAt(procedure: Id, step: Id, window?: { readonly low: Quantity; readonly high: Quantity }): readonly RigAction[] {
  return (hands[procedure]?.moves[step] ?? []).map(({ act, aim }): RigAction => {
    if (!aim || !window) return { act };
    const low = decimalIn(window.low, 'Pa').toNumber();
    const high = decimalIn(window.high, 'Pa').toNumber();
    return { act, to: aim === 'low' ? low : (low + high) / 2 };
  });
}
