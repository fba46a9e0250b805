import type { FastifyReply, FastifyRequest } from 'fastify';
import type { Context } from '../context';
import { batchAfter } from './store';

const HEARTBEAT_MS = 10_000;
/** Beyond the newest position of any run. */
const MOST_EVENTS = 2_147_483_647;

/** Where a browser stands with a run: it has everything up to this position. */
export interface Following {
  readonly run: string;
  readonly seq: number;
}

/** One run sent down a stream that others may share. */
class Feed {
  private last: number;
  private lease = -1;
  private sending = false;
  private again = true;
  private closed = false;
  private readonly unwatch: () => void;

  constructor(
    private readonly context: Context,
    private readonly following: Following,
    private readonly write: (id: number, data: string) => void,
    private readonly broken: () => void,
  ) {
    this.last = following.seq;
    this.unwatch = context.live.watch(following.run, () => void this.send());
  }

  async send(): Promise<void> {
    this.again = true;
    if (this.sending) return;
    this.sending = true;
    try {
      while (this.again && !this.closed) {
        this.again = false;
        const batch = await batchAfter(this.context.connection.db, this.following.run, this.last);
        if (batch.events.length === 0 && batch.lease === this.lease) continue;
        this.lease = batch.lease;
        this.last = batch.events.at(-1)?.seq ?? this.last;
        this.write(this.last, JSON.stringify({ run: this.following.run, ...batch }));
      }
    } catch {
      this.broken(); // the browser comes back by itself, with its position
    } finally {
      this.sending = false;
    }
  }

  end(): void {
    this.closed = true;
    this.unwatch();
  }
}

/**
 * Sends the events of runs to one browser as they are committed, by server-sent events: first all that is stored after each position, then whatever
 * is added, from whichever server. Several runs share one connection, because a browser has few. A message's id is the position of its run, so that a
 * browser that followed one run and lost the connection goes on where it was.
 */
export async function streamRuns(context: Context, request: FastifyRequest, reply: FastifyReply, wanted: readonly Following[]): Promise<unknown> {
  // An unknown run is refused before the reply turns into a stream.
  for (const { run } of wanted) await batchAfter(context.connection.db, run, MOST_EVENTS);
  // Who asks for the head alone is not kept waiting for a body without end.
  if (request.method === 'HEAD') return reply.type('text/event-stream').send();
  reply.hijack();
  const raw = reply.raw;
  raw.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
  const feeds = wanted.map(
    (w) =>
      new Feed(
        context,
        w,
        (id, data) => raw.write(`id: ${String(id)}\ndata: ${data}\n\n`),
        () => raw.destroy(),
      ),
  );
  const heartbeat = setInterval(() => raw.write(': still here\n\n'), HEARTBEAT_MS);
  raw.on('error', () => undefined);
  raw.on('close', () => {
    clearInterval(heartbeat);
    for (const feed of feeds) feed.end();
  });
  return Promise.all(feeds.map((feed) => feed.send()));
}
