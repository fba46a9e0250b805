import { originOf, type Next, type Quantity } from '@grellin/core';
import { movesAt } from '@grellin/core/practice';

/** What the run asks for now, as far as the rig is concerned. */
export interface RigAsk {
  /** The step, mark or stage whose moves carry it out. */
  readonly moves: string | null;
  readonly window: { readonly low: Quantity; readonly high: Quantity } | null;
  /** A look at one thing: an item of a check, a place of a survey, or something that is read by eye. */
  readonly look: { readonly kind: 'item' | 'spot' | 'channel'; readonly id: string } | null;
}

/** The window that what comes next must stand in. */
export function windowOf(n: Next | undefined): RigAsk['window'] {
  return n?.kind === 'reach' || n?.kind === 'start' ? { low: n.low, high: n.high } : null;
}

/** What the rig's hand and eye are asked for. */
export function rigAskOf(procedure: string, n: Next | undefined): RigAsk {
  const ask = (moves: string | null, look: RigAsk['look'] = null): RigAsk => ({ moves, window: windowOf(n), look });
  switch (n?.kind) {
    case 'answer':
      return ask(null, { kind: 'item', id: originOf(n.item.id) });
    case 'spot':
      return ask(null, { kind: 'spot', id: n.spot.id });
    case 'read':
      return ask(null, { kind: 'channel', id: n.channel });
    case 'begin':
      return ask(originOf(n.stage.id));
    case 'act':
    case 'reach':
    case 'wait':
      return ask(n.step.id);
    case 'start': {
      const own = `${originOf(n.stage.id)}:start`;
      return ask(movesAt(procedure, own).length > 0 ? own : 'start');
    }
    // The tap is shut as the start is read, and not before.
    case 'hold':
      return ask('start');
    default:
      return ask(null);
  }
}
