import { setTimeout as pause } from 'node:timers/promises';
import type { Database } from '../db';
import type { LiveRuns } from './live';
import { batchAfter, type Batch } from './store';

/** Events that are fetched at once for whoever is behind: no watcher's past stands in memory as a whole. */
export const PAGE = 40;
/** After the database could not answer. */
const AGAIN_MS = 1000;
const STARTS_LATER_MS = 50;

/** Somebody who watches a run. */
export interface Watcher {
  /** Position of the newest event that was written to it. */
  readonly last: number;
  readonly lease: number;
  /** Writes a message. Resolves when there is room for another, and to false when there will be none. */
  readonly write: (seq: number, lease: number, message: string) => Promise<boolean>;
  /** Whether it has room for another message right now. */
  readonly hasRoom: () => boolean;
}

const messageOf = (run: string, batch: Batch): string => JSON.stringify({ run, ...batch });

/** One run's watchers at this server: what is new is asked for once, put into words once, and given to all of them. */
class Channel {
  private readonly upToDate = new Set<Watcher>();
  private seq = 0;
  private lease = -1;
  private fetching = false;
  private poked = false;
  private closed = false;
  private readonly unwatch: () => void;

  constructor(
    private readonly db: Database,
    private readonly run: string,
    live: LiveRuns,
    private readonly behind: (watcher: Watcher) => void,
  ) {
    this.unwatch = live.watch(run, () => void this.poke());
  }

  /** Takes a watcher in that has all there was. @returns false when something has come meanwhile, and it is behind again */
  join(watcher: Watcher): boolean {
    if (watcher.last < this.seq || (watcher.last === this.seq && watcher.lease !== this.lease && this.lease >= 0)) return false;
    this.seq = Math.max(this.seq, watcher.last);
    this.lease = watcher.lease;
    this.upToDate.add(watcher);
    return true;
  }

  /** There is more to fetch. */
  async poke(): Promise<void> {
    this.poked = true;
    if (this.fetching) return;
    this.fetching = true;
    while (this.poked && !this.closed && this.upToDate.size > 0) {
      this.poked = false;
      try {
        const batch = await batchAfter(this.db, this.run, this.seq, PAGE);
        if (batch.events.length === PAGE) this.poked = true;
        this.give(batch);
      } catch {
        // The database is away: who watches stays, and is told when it is back.
        await pause(AGAIN_MS, undefined, { ref: false });
        this.poked = true;
      }
    }
    this.fetching = false;
  }

  private give(batch: Batch): void {
    if (batch.events.length === 0 && batch.lease === this.lease) return;
    const from = this.seq;
    this.seq = batch.events.at(-1)?.seq ?? from;
    this.lease = batch.lease;
    const message = messageOf(this.run, batch);
    for (const watcher of this.upToDate)
      // Whoever has no room, or stands elsewhere, goes at its own pace until it has caught up.
      if (watcher.last !== from || !watcher.hasRoom()) {
        this.upToDate.delete(watcher);
        this.behind(watcher);
      } else void watcher.write(this.seq, batch.lease, message);
  }

  leave(watcher: Watcher): void {
    this.upToDate.delete(watcher);
  }

  close(): void {
    this.closed = true;
    this.unwatch();
  }
}

/** Gives the events of runs to whoever watches them at this server. */
export class FanOut {
  private readonly channels = new Map<string, { readonly channel: Channel; readonly members: Set<Watcher> }>();

  constructor(
    private readonly db: () => Database,
    private readonly live: LiveRuns,
  ) {}

  /** Watches a run from where the watcher stands. @returns what ends the watching */
  watch(run: string, watcher: Watcher): () => void {
    const held = this.channels.get(run) ?? {
      channel: new Channel(this.db(), run, this.live, (late) => void this.catchUp(run, late)),
      members: new Set<Watcher>(),
    };
    this.channels.set(run, held);
    held.members.add(watcher);
    void this.catchUp(run, watcher);
    return () => {
      held.members.delete(watcher);
      held.channel.leave(watcher);
      if (held.members.size > 0) return;
      held.channel.close();
      this.channels.delete(run);
    };
  }

  /** Brings one watcher forward at its own pace, a page at a time, until it has all there is. */
  private async catchUp(run: string, watcher: Watcher): Promise<void> {
    for (;;) {
      const held = this.channels.get(run);
      if (!held?.members.has(watcher)) return;
      let more: boolean;
      try {
        const batch = await batchAfter(this.db(), run, watcher.last, PAGE);
        more = batch.events.length === PAGE;
        const news = batch.events.length > 0 || batch.lease !== watcher.lease;
        if (news && !(await watcher.write(batch.events.at(-1)?.seq ?? watcher.last, batch.lease, messageOf(run, batch)))) return;
      } catch {
        await pause(AGAIN_MS, undefined, { ref: false });
        continue;
      }
      if (more) continue;
      if (held.channel.join(watcher)) {
        // What was stored between the look and the joining is asked for once more.
        void held.channel.poke();
        return;
      }
      await pause(STARTS_LATER_MS, undefined, { ref: false });
    }
  }
}
