import { readFile } from 'node:fs/promises';
import {
  verifyAnchors,
  verifyProcedures,
  verifyRun,
  type AnchoredRecord,
  type Fault,
  type KeptProcedure,
  type KeptRun,
  type Otherwise,
} from '@grellin/contract';
import type { Procedure } from '@grellin/core';
import { sha256 } from '../run';

/** From where what is kept is read: a database, or a bundle. */
export interface Kept {
  readonly total: number;
  readonly procedures: readonly KeptProcedure[];
  readonly runs: AsyncIterable<KeptRun>;
  readonly records: () => AsyncIterable<AnchoredRecord>;
}

export interface Walked {
  readonly runs: number;
  readonly events: number;
  readonly faults: readonly Fault[];
  readonly otherwise: readonly Otherwise[];
}

/** As many as anybody reads; how many there were is told besides. */
export const MOST_TOLD = 500;

/**
 * Walks everything that is kept.
 * @param onProgress told after every run, and of every fault as it is found
 */
export async function walk(kept: Kept, anchorFile: string | null, onProgress: (done: number, total: number) => void = () => undefined): Promise<Walked> {
  const faults: Fault[] = [...(await verifyProcedures(kept.procedures, sha256))];
  const otherwise: Otherwise[] = [];
  const documents = new Map<string, Procedure>(kept.procedures.map((p) => [p.digest, p.document]));
  let runs = 0;
  let events = 0;
  for await (const run of kept.runs) {
    const report = await verifyRun(run, documents, sha256);
    faults.push(...report.faults);
    if (report.otherwise) otherwise.push(report.otherwise);
    runs++;
    events += run.chain.length;
    onProgress(runs, kept.total);
  }
  const anchors = anchorFile === null ? '' : await readFile(anchorFile, 'utf8').catch(() => '');
  if (anchors !== '') faults.push(...(await verifyAnchors(anchors, kept.records(), sha256)));
  return { runs, events, faults, otherwise };
}
