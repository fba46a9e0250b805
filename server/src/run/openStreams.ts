import type { ServerResponse } from 'node:http';
import type { Database } from '../db';
import { sessionsInForce } from '../account';

/** Sessions are looked up again so often for streams that stay open: one query for all of this server's. */
const LOOK_MS = 2000;

interface Open {
  readonly account: string;
  readonly session: string;
  readonly raw: ServerResponse;
}

/** The streams of this server: each ends when the session that it was opened under does, whichever server ended that. */
export class OpenStreams {
  private readonly open = new Set<Open>();
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly db: Database,
    private readonly now: () => Date,
  ) {}

  /** @returns what ends the tracking */
  track(account: string, session: string, raw: ServerResponse): () => void {
    const one = { account, session, raw };
    this.open.add(one);
    this.timer ??= setInterval(() => void this.look().catch(() => undefined), LOOK_MS).unref();
    return () => this.open.delete(one);
  }

  /** Ends at once, at this server, the streams of an account or of some sessions. */
  end(which: (one: { readonly account: string; readonly session: string }) => boolean): void {
    for (const one of this.open) if (which(one)) one.raw.destroy();
  }

  private async look(): Promise<void> {
    if (this.open.size === 0) return;
    const known = await sessionsInForce(this.db, [...new Set([...this.open].map((o) => o.session))], this.now());
    this.end((one) => !known.has(one.session));
  }

  stop(): void {
    clearInterval(this.timer);
  }
}
