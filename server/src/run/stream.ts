import type { FastifyReply } from 'fastify';
import type { Context } from '../context';
import { batchAfter } from './store';

const HEARTBEAT_MS = 10_000;
/** Beyond the newest position of any run. */
const MOST_EVENTS = 2_147_483_647;

/**
 * Sends a run's events to one browser as they are committed, by server-sent events: first all that is stored after `seq`, then whatever is
 * added, from whichever server. The message's id is the position, so that a browser that lost the connection goes on where it was.
 */
export async function streamRun(context: Context, reply: FastifyReply, id: string, seq: number): Promise<void> {
  const { db } = context.connection;
  let last = seq;
  let lease = -1;
  let closed = false;
  let sending = false;
  let again = true;
  await batchAfter(db, id, MOST_EVENTS); // an unknown run is refused before the reply turns into a stream
  reply.hijack();
  const raw = reply.raw;
  raw.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });

  const send = async (): Promise<void> => {
    again = true;
    if (sending) return;
    sending = true;
    try {
      while (again && !closed) {
        again = false;
        const batch = await batchAfter(db, id, last);
        if (batch.events.length === 0 && batch.lease === lease) continue;
        lease = batch.lease;
        last = batch.events.at(-1)?.seq ?? last;
        raw.write(`id: ${last}\ndata: ${JSON.stringify(batch)}\n\n`);
      }
    } catch {
      raw.destroy(); // the browser comes back by itself, with its position
    } finally {
      sending = false;
    }
  };
  const unwatch = context.live.watch(id, () => void send());
  const heartbeat = setInterval(() => raw.write(': still here\n\n'), HEARTBEAT_MS);
  raw.on('error', () => undefined);
  raw.on('close', () => {
    closed = true;
    clearInterval(heartbeat);
    unwatch();
  });
  await send();
}
