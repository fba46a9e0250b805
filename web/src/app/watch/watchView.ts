import { next, readingsOf, showClock, type Next } from '@grellin/core';
import type { Watched } from './watchStore';

/** One running strip: what it is, what goes on in it, and whether a hand is wanted. */
export interface WatchRow {
  readonly id: string;
  readonly tag: string;
  readonly title: string;
  readonly stage: string;
  readonly doing: string;
  /** Time left, where something only has to be waited for. */
  readonly left: string | null;
  readonly wantsHand: boolean;
  /** The last few minutes as an SVG path in a box of 200 × 44. */
  readonly path: string;
  readonly simulated: boolean;
}

const doing: Readonly<Record<Next['kind'], string>> = {
  begin: 'next stage',
  answer: 'a question is open',
  spot: 'a place to soap',
  read: 'something to read',
  act: 'something to do',
  wait: 'settling',
  reach: 'to be brought into its window',
  start: 'ready to start',
  hold: 'holding',
  end: 'to be judged',
  seal: 'to be sealed',
  closed: 'closed',
};

const STRIP_MS = 300_000;
const MOST_POINTS = 120;

function pathOf({ view, run }: Watched, now: number): string {
  const channel = Object.keys(view.document.channels).find((c) => readingsOf(run, c).length > 1);
  if (channel === undefined) return '';
  const recent = readingsOf(run, channel).between(now - STRIP_MS, Number.POSITIVE_INFINITY);
  const every = Math.max(1, Math.ceil(recent.length / MOST_POINTS));
  const points = recent.filter((_, i) => i % every === 0 || i === recent.length - 1);
  const values = points.map((r) => r.value);
  const low = Math.min(...values);
  const span = Math.max(...values) - low || 1;
  const from = points[0]?.at ?? now;
  const width = Math.max(1, now - from);
  return points
    .map((r, i) => `${i === 0 ? 'M' : 'L'}${((200 * (r.at - from)) / width).toFixed(1)} ${(40 - (36 * (r.value - low)) / span).toFixed(1)}`)
    .join('');
}

/**
 * The row of one run.
 * @param serverMs the server's clock, for a run that no instrument paces
 */
export function watchRow(watched: Watched, serverMs: number): WatchRow {
  const { view, plan, run } = watched;
  const paced = Object.values(view.instruments).some((i) => i.streams);
  const now = paced || !run.opened ? run.at : Math.max(run.at, serverMs - Date.parse(run.opened.startedAt));
  const n: Next | null = plan ? next(plan, run) : null;
  const until = n?.kind === 'wait' || n?.kind === 'hold' ? n.until : null;
  return {
    id: view.id,
    tag: view.tag,
    title: view.title,
    stage: n && 'stage' in n ? n.stage.title : '',
    doing: n ? doing[n.kind] : 'being fetched',
    left: until === null ? null : showClock(Math.max(0, until - now)),
    wantsHand: n !== null && (until === null || now >= until),
    path: pathOf(watched, now),
    simulated: view.clock === 'simulated',
  };
}
