import type { RunView } from '@grellin/contract';
import { next, readingsOf, showClock, type Next, type RunState, inBox, svgPath } from '@grellin/core';
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

/** A run's last few minutes as a path; looked for once for each state that the run had. */
const drawn = new WeakMap<RunState, string>();

function pathOf({ view, run }: Watched): string {
  const kept = drawn.get(run);
  if (kept !== undefined) return kept;
  const path = newPathOf(view, run);
  drawn.set(run, path);
  return path;
}

/** The box that a row's strip is drawn in. */
const STRIP = { width: 200, height: 44, margin: 4 } as const;

function newPathOf(view: RunView, run: RunState): string {
  const channel = Object.keys(view.document.channels).find((c) => readingsOf(run, c).length > 1);
  if (channel === undefined) return '';
  const recent = readingsOf(run, channel).between(run.at - STRIP_MS, Number.POSITIVE_INFINITY);
  const every = Math.max(1, Math.ceil(recent.length / MOST_POINTS));
  const points: (readonly [number, number])[] = [];
  recent.each((at, value, i) => {
    if (i % every === 0 || i === recent.length - 1) points.push([at, value]);
  });
  return svgPath(inBox(points, STRIP, run.at));
}

/**
 * The row of one run.
 * @param clockMs the run's clock at the server, where no instrument paces it
 * @param strip whether its strip is drawn; a small row has no room for one
 */
export function watchRow(watched: Watched, clockMs: number, strip: boolean): WatchRow {
  const { view, plan, run } = watched;
  const paced = Object.values(view.instruments).some((i) => i.streams);
  const now = paced || !run.opened ? run.at : Math.max(run.at, clockMs);
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
    path: strip ? pathOf(watched) : '',
    simulated: view.clock === 'simulated',
  };
}
