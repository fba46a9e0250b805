import type { MessagePort } from 'node:worker_threads';
import type { AssetRow, RecordView, VerificationProgress } from '@grellin/contract';
import type { Plan } from '@grellin/core';
import { lonelyClient } from '../db';
import { certificate, doNotUseTag, type Issue } from '../record';
import { type LabelForm, labels, type ReadRow, readRows, type RowsAsked } from '../transfer';
import { inOnePicture, MOST_TOLD, walk } from '../verify';

/** What takes longer than the others can wait for: each is carried out in a worker, off the thread that answers requests. */

/** Progress is told this often, not after every run. */
const TELL_MS = 200;

export const work = {
  certificate: ({
    view,
    plan,
    pictures,
    issue,
  }: {
    readonly view: RecordView;
    readonly plan: Plan;
    readonly pictures: readonly Uint8Array[];
    readonly issue: Issue;
  }): Promise<Uint8Array> => certificate(view, plan, pictures, issue),
  tag: ({
    view,
    why,
    leaks,
    issue,
  }: {
    readonly view: RecordView;
    readonly why: string;
    readonly leaks: readonly string[];
    readonly issue: Issue;
  }): Promise<Uint8Array> => doNotUseTag(view, why, leaks, issue),
  labels: ({ assets, form, base }: { readonly assets: readonly AssetRow[]; readonly form: LabelForm; readonly base: string }): Promise<Uint8Array> =>
    labels(assets, form, base),
  rows: (asked: RowsAsked): readonly ReadRow[] => readRows(asked),
  verify: async ({
    url,
    anchorFile,
    port,
  }: {
    readonly url: string;
    readonly anchorFile: string | null;
    readonly port: MessagePort;
  }): Promise<VerificationProgress> => {
    const client = lonelyClient(url);
    client.on('error', () => undefined);
    await client.connect();
    try {
      return await inOnePicture(client, async (kept) => {
        const { total } = kept;
        let last = 0;
        const tell = (done: number): void => {
          if (performance.now() - last < TELL_MS) return;
          last = performance.now();
          port.postMessage({ done, total, events: 0, faultCount: 0, faults: [], otherwise: [], finished: false } satisfies VerificationProgress);
        };
        const found = await walk(kept, anchorFile, tell);
        return {
          done: found.runs,
          total,
          events: found.events,
          faultCount: found.faults.length,
          faults: found.faults.slice(0, MOST_TOLD),
          otherwise: found.otherwise.slice(0, MOST_TOLD),
          finished: true,
        };
      });
    } finally {
      port.close();
      await client.end();
    }
  },
} as const;

export type Work = typeof work;
