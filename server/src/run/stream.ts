import type { ServerResponse } from 'node:http';
import type { FastifyReply, FastifyRequest } from 'fastify';
import type { Database } from '../db';
import type { FanOut, Watcher } from './fanOut';
import type { OpenStreams } from './openStreams';
import { batchAfter } from './store';

const HEARTBEAT_MS = 10_000;
/** Beyond the newest position of any run. */
const MOST_EVENTS = 2_147_483_647;
/** What may lie unread before a browser: more is not written until it has read. */
const MOST_UNREAD = 1 << 18;
/** A browser that reads nothing for so long is gone: it comes back by itself, with its position. */
const UNREAD_MS = 30_000;

/** Where a browser stands with a run: it has everything up to this position. */
export interface Following {
  readonly run: string;
  readonly seq: number;
}

/** One browser's connection, which several runs share. */
export class Line {
  private waiting: Promise<boolean> | null = null;

  constructor(readonly raw: ServerResponse) {}

  hasRoom(): boolean {
    return this.raw.writableLength < MOST_UNREAD;
  }

  /** Writes, and waits until there is room for more. @returns false when the browser has gone, or reads nothing */
  write(text: string): Promise<boolean> {
    if (this.raw.destroyed) return Promise.resolve(false);
    this.raw.write(text);
    if (this.hasRoom()) return Promise.resolve(true);
    this.waiting ??= new Promise<boolean>((resolve) => {
      const done = (read: boolean): void => {
        clearTimeout(patience);
        this.raw.off('drain', drained).off('close', gone);
        this.waiting = null;
        resolve(read);
      };
      const drained = (): void => done(true);
      const gone = (): void => done(false);
      const patience = setTimeout(() => this.raw.destroy(), UNREAD_MS);
      this.raw.on('drain', drained).on('close', gone);
    });
    return this.waiting;
  }
}

/** One run sent down a line. */
export class Feed implements Watcher {
  lease = -1;

  constructor(
    readonly run: string,
    public last: number,
    private readonly line: Line,
  ) {}

  hasRoom(): boolean {
    return this.line.hasRoom();
  }

  write(seq: number, lease: number, message: string): Promise<boolean> {
    this.last = seq;
    this.lease = lease;
    return this.line.write(`id: ${String(seq)}\ndata: ${message}\n\n`);
  }
}

/** What a stream works with. */
export interface StreamNeeds {
  readonly db: Database;
  readonly fanOut: FanOut;
  readonly streams: OpenStreams;
}

/**
 * Sends the events of runs to one browser as they are committed, by server-sent events: first all that is stored after each position, then whatever
 * is added, from whichever server. Several runs share one connection, because a browser has few. A message's id is the position of its run, so that a
 * browser that followed one run and lost the connection goes on where it was. While the database is away the stream stays, and goes on when it is back.
 */
export async function streamRuns(
  { db, fanOut, streams }: StreamNeeds,
  request: FastifyRequest,
  reply: FastifyReply,
  wanted: readonly Following[],
): Promise<unknown> {
  // An unknown run is refused before the reply turns into a stream.
  for (const { run } of wanted) await batchAfter(db, run, MOST_EVENTS, 1);
  // Who asks for the head alone is not kept waiting for a body without end.
  if (request.method === 'HEAD') return reply.type('text/event-stream').send();
  reply.hijack();
  const { raw } = reply;
  raw.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
  const line = new Line(raw);
  const ends = wanted.map((w) => fanOut.watch(w.run, new Feed(w.run, w.seq, line)));
  const heartbeat = setInterval(() => {
    if (line.hasRoom()) raw.write(': still here\n\n');
  }, HEARTBEAT_MS);
  const { me } = request;
  const untrack = me && request.sessionId ? streams.track(me.id, request.sessionId, raw) : () => undefined;
  raw.on('error', () => undefined);
  raw.on('close', () => {
    clearInterval(heartbeat);
    untrack();
    for (const end of ends) end();
  });
  return reply;
}
