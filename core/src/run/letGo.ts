import type { Chunk } from '../method';
import type { RunState } from './state';
import { added, type Trail } from './trail';

/**
 * Lets go of readings that no attempt claims and that are older than a moment: an instrument that is left streaming beside an item must not fill a
 * browser. What an attempt claims stays, so every finding and every step that comes next is the same. Only for who looks on: the server keeps all.
 * @param before ms on the run's clock
 * @returns the same state where there is nothing to let go of
 * @example unclaimedLetGo(exampleOf('suit.inflation', 'inflate').state, 0).sealed // true
 */
export function unclaimedLetGo(state: RunState, before: number): RunState {
  const attempts = Object.values(state.attempts).flat();
  const needed = (c: Chunk): boolean => {
    const last = c.at + (c.values.length - 1) * c.everyMs;
    return last >= before || attempts.some((a) => last >= a.beganAt && (a.endedAt === null || c.at <= a.endedAt));
  };
  const chunks = Object.entries(state.chunks).map(([channel, trail]): [string, Trail<Chunk>] => {
    // The newest stays, so that the needle is still shown.
    const kept: Chunk[] = [trail.item];
    for (let t = trail.before; t; t = t.before) if (needed(t.item)) kept.push(t.item);
    if (kept.length === trail.length) return [channel, trail];
    return [channel, kept.reduceRight<Trail<Chunk> | null>(added, null) ?? trail];
  });
  return chunks.some(([channel, trail]) => trail !== state.chunks[channel]) ? { ...state, chunks: Object.fromEntries(chunks) } : state;
}
