import type pg from 'pg';
import { lonelyClient } from '../db';

export const NOTIFY_CHANNEL = 'grellin_run';

type Poke = () => void;

/**
 * Tells whoever watches a run that there is more to fetch. One listening connection for each server; what it hears is the run and its position
 * only, so a lost message costs nothing: after every reconnection all watchers are poked.
 */
export class LiveRuns {
  private readonly watchers = new Map<string, Set<Poke>>();
  private client: pg.Client | null = null;
  private stopped = false;
  private again: NodeJS.Timeout | undefined;

  constructor(private readonly url: string) {}

  async start(): Promise<void> {
    const client = lonelyClient(this.url);
    client.on('notification', (m) => this.poke(m.payload?.split(':')[0] ?? ''));
    client.on('error', () => undefined);
    client.on('end', () => this.retry());
    this.client = client;
    try {
      await client.connect();
      await client.query(`LISTEN ${NOTIFY_CHANNEL}`);
      for (const id of this.watchers.keys()) this.poke(id);
    } catch {
      this.retry();
    }
  }

  private retry(): void {
    if (this.stopped) return;
    clearTimeout(this.again);
    this.again = setTimeout(() => void this.start(), 500);
  }

  private poke(id: string): void {
    for (const poke of this.watchers.get(id) ?? []) poke();
  }

  /** @returns what ends the watching */
  watch(id: string, poke: Poke): () => void {
    const set = this.watchers.get(id) ?? new Set();
    this.watchers.set(id, set);
    set.add(poke);
    return () => {
      set.delete(poke);
      if (set.size === 0) this.watchers.delete(id);
    };
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.again);
    await this.client?.end().catch(() => undefined);
  }
}
