import { availableParallelism } from 'node:os';
import type { MessagePort } from 'node:worker_threads';
import type { VerificationProgress } from '@grellin/contract';
import { Piscina } from 'piscina';
import { Coded } from '../base';
import type { Work } from './work';
import type { Outcome } from './worker';

type Given<J extends keyof Work> = Parameters<Work[J]>[0];
type Done<J extends keyof Work> = Awaited<ReturnType<Work[J]>>;

/** Jobs that wait at once: more is refused, so that a queue of certificates does not grow without end. */
const MOST_WAITING = 64;
/** A worker that has had nothing to do for so long goes. */
const IDLE_MS = 30_000;

/** From the sources (in tests and development) the worker is TypeScript, which it has to be taught to read. */
const fromSources = import.meta.url.endsWith('.ts');

/** Bytes come back from a worker as a plain array of them. */
async function asBuffer(done: Promise<Uint8Array>): Promise<Buffer> {
  return Buffer.from(await done);
}

/** Carries out what takes long, in workers of its own. */
export class Papers {
  private readonly pool = new Piscina({
    filename: new URL(fromSources ? './worker.ts' : './papers.mjs', import.meta.url).href,
    ...(fromSources ? { execArgv: ['--import', 'tsx'] } : {}),
    minThreads: 0,
    maxThreads: Math.max(1, Math.min(2, availableParallelism() - 1)),
    maxQueue: MOST_WAITING,
    idleTimeout: IDLE_MS,
  });

  private async carryOut<J extends keyof Work>(
    job: J,
    given: Given<J>,
    options: { readonly transfer?: readonly MessagePort[]; readonly signal?: AbortSignal } = {},
  ): Promise<Done<J>> {
    const outcome = await this.pool
      .run({ job, given }, { ...(options.transfer ? { transferList: [...options.transfer] } : {}), ...(options.signal ? { signal: options.signal } : {}) })
      .then((o) => o as Outcome)
      .catch((error: unknown) => {
        if (error instanceof Error && error.message.includes('queue')) throw new Coded('server.busy', 'Too many papers are asked for at once. Try again.');
        throw error;
      });
    if (outcome.refused) throw new Coded(outcome.refused.code, outcome.refused.message, outcome.refused.values);
    return outcome.done as Done<J>;
  }

  /** A certificate, as PDF. */
  certificate(given: Given<'certificate'>): Promise<Buffer> {
    return asBuffer(this.carryOut('certificate', given));
  }

  /** A do-not-use tag, as PDF. */
  tag(given: Given<'tag'>): Promise<Buffer> {
    return asBuffer(this.carryOut('tag', given));
  }

  /** Labels, as PDF. */
  labels(given: Given<'labels'>): Promise<Buffer> {
    return asBuffer(this.carryOut('labels', given));
  }

  /** The rows of a register's CSV, each with what is wrong with it. */
  rows(given: Given<'rows'>): Promise<Done<'rows'>> {
    return this.carryOut('rows', given);
  }

  verify(url: string, anchorFile: string | null, port: MessagePort, signal: AbortSignal): Promise<VerificationProgress> {
    return this.carryOut('verify', { url, anchorFile, port }, { transfer: [port], signal });
  }

  close(): Promise<void> {
    return this.pool.destroy();
  }
}
