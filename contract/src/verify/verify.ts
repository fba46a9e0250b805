import { foldAll, judge, planOfRun, type EventOf, type Procedure } from '@grellin/core';
import type { KeptProcedure, KeptRun } from './bundle';
import { digestText, ENVELOPE_VERSION, GENESIS, sealText, type Link, type Sha256 } from './seal';

/** What can be wrong with what is kept. Each names the run and, where it is one event's, its position. */
export type FaultCode =
  | 'chain.empty'
  | 'chain.order'
  | 'chain.previous'
  | 'chain.hash'
  | 'chain.run'
  | 'chain.version'
  | 'chain.end'
  | 'chain.tail'
  | 'chain.opening'
  | 'record.missing'
  | 'record.early'
  | 'record.head'
  | 'record.verdict'
  | 'record.findings'
  | 'record.item'
  | 'paper.bytes'
  | 'picture.missing'
  | 'picture.bytes'
  | 'procedure.digest'
  | 'procedure.missing'
  | 'certificate.unknown'
  | 'certificate.differs'
  | 'anchor.broken'
  | 'anchor.root'
  | 'anchor.fewer';

export interface Fault {
  readonly code: FaultCode;
  readonly run: string | null;
  readonly seq: number | null;
  readonly message: string;
}

/** What today's methods would find of an old run otherwise. It is no fault: the sealed record stands. */
export interface Otherwise {
  readonly run: string;
  readonly record: string;
  readonly sealed: string;
  readonly today: string;
}

export interface RunReport {
  readonly faults: readonly Fault[];
  readonly otherwise: Otherwise | null;
}

const fault = (code: FaultCode, run: string | null, seq: number | null, message: string): Fault => ({ code, run, seq, message });

/** Follows the links from the beginning: hashes, order, the run that each is bound to. */
async function chainFaults(id: string, chain: readonly Link[], sha256: Sha256): Promise<Fault[]> {
  const faults: Fault[] = [];
  let previous = GENESIS;
  for (const [i, link] of chain.entries()) {
    if (link.seq !== i + 1) faults.push(fault('chain.order', id, link.seq, `event ${String(link.seq)} stands where ${String(i + 1)} should`));
    if (link.run !== id) faults.push(fault('chain.run', id, link.seq, `event ${String(link.seq)} belongs to run ${link.run}`));
    if (link.version < 1 || link.version > ENVELOPE_VERSION)
      faults.push(fault('chain.version', id, link.seq, `event ${String(link.seq)} has an envelope of edition ${String(link.version)}`));
    if (link.previous !== previous) faults.push(fault('chain.previous', id, link.seq, `event ${String(link.seq)} does not follow the one before it`));
    if ((await sha256(sealText({ ...link, run: id, previous: link.previous }))) !== link.hash)
      faults.push(fault('chain.hash', id, link.seq, `event ${String(link.seq)} has been changed since it was stored`));
    previous = link.hash;
    // Everything after the first break is broken with it: one line says more than a thousand.
    if (faults.length > 0) break;
  }
  return faults;
}

function endFaults(run: KeptRun): Fault[] {
  const last = run.chain.at(-1);
  if (!last) return [fault('chain.empty', run.id, null, 'the run has no events')];
  const faults: Fault[] = [];
  if (last.seq !== run.seq || last.hash !== run.head)
    faults.push(fault('chain.end', run.id, last.seq, `the chain ends at event ${String(last.seq)}; the run says ${String(run.seq)}`));
  const first = run.chain[0]?.event;
  if (first?.kind !== 'opened') faults.push(fault('chain.opening', run.id, 1, 'the chain does not begin with the opening'));
  else if (first.procedure !== run.digest) faults.push(fault('chain.opening', run.id, 1, 'the run names another procedure than its opening'));
  return faults;
}

const isEnd = (link: Link): boolean => !link.late && (link.event.kind === 'sealed' || link.event.kind === 'abandoned');

/** Holds the record against the seal of its run. */
async function recordFaults(run: KeptRun, sha256: Sha256): Promise<Fault[]> {
  const { record, chain } = run;
  const end = chain.find(isEnd);
  if (!record) return run.closed || end ? [fault('record.missing', run.id, end?.seq ?? null, 'the run has come to its end and has no record')] : [];
  if (!end) return [fault(run.closed ? 'chain.tail' : 'record.early', run.id, run.seq, `${record.number} is of a run whose end is not there`)];
  const sealing = chain.find((l) => !l.late && l.event.kind === 'recorded');
  const at = sealing ?? end;
  const faults: Fault[] = [];
  if (record.head !== at.hash) faults.push(fault('record.head', run.id, at.seq, `${record.number} carries another head than its chain had when it was sealed`));
  if (sealing) {
    const said = sealing.event as EventOf<'recorded'>;
    if (said.record !== record.number || said.verdict !== record.verdict || said.blocks !== record.blocks || said.counts !== record.counts)
      faults.push(fault('record.verdict', run.id, at.seq, `${record.number} says ${record.verdict}; the seal says ${said.verdict} of ${said.record}`));
    const told = (word: 'holds' | 'condemns'): boolean => said[word] === undefined || said[word] === record[word];
    if (!told('holds') || !told('condemns'))
      faults.push(fault('record.verdict', run.id, at.seq, `${record.number} says otherwise than its seal whether the item is held back or condemned`));
    if (said.item !== record.asset || record.run !== run.id || record.procedure !== run.procedure || run.asset !== said.item)
      faults.push(fault('record.item', run.id, at.seq, `${record.number} is of another item or run than the seal says`));
    if ((await sha256(digestText(record.result))) !== said.findings)
      faults.push(fault('record.findings', run.id, at.seq, `the findings of ${record.number} are not those that were sealed`));
  }
  for (const paper of run.papers)
    if (paper.actual !== paper.sha256)
      faults.push(fault('paper.bytes', run.id, null, `the ${paper.kind} of ${paper.record}, issued ${paper.issuedAt}, has been changed`));
  return faults;
}

/** Holds the pictures that the chain tells of, those that came late too, against the bytes that are kept. */
function pictureFaults(run: KeptRun): Fault[] {
  const kept = new Map((run.pictures ?? []).map((p) => [p.sha256, p.actual]));
  return run.chain.flatMap(({ seq, event }) => {
    if (event.kind !== 'pictured') return [];
    const actual = kept.get(event.picture);
    if (actual === undefined) return [fault('picture.missing', run.id, seq, `the picture of event ${String(seq)} is not kept`)];
    return actual === event.picture ? [] : [fault('picture.bytes', run.id, seq, `the picture of event ${String(seq)} has been changed`)];
  });
}

/** What today's methods find of a run, where that is not what was sealed. */
function otherwiseOf(run: KeptRun, document: Procedure | undefined): Otherwise | null {
  const events = run.chain.filter((l) => !l.late).map((l) => l.event);
  const opened = events[0];
  if (!run.record || !document || opened?.kind !== 'opened') return null;
  try {
    const made = planOfRun(document, opened);
    if (!made.ok) return null;
    const { verdict } = judge(made.plan, foldAll(events));
    return verdict === run.record.verdict ? null : { run: run.id, record: run.record.number, sealed: run.record.verdict, today: verdict };
  } catch {
    return null; // a document of an edition that today's program cannot read says nothing about the seal
  }
}

/**
 * Verifies one run with nothing but what is kept of it: no server, no role, no word of the application is believed.
 * @param procedures the published documents, by digest
 */
export async function verifyRun(run: KeptRun, procedures: ReadonlyMap<string, Procedure>, sha256: Sha256): Promise<RunReport> {
  const broken = run.chain.length === 0 ? [] : await chainFaults(run.id, run.chain, sha256);
  const faults = [...broken, ...endFaults(run), ...(await recordFaults(run, sha256)), ...pictureFaults(run)];
  const document = procedures.get(run.digest);
  if (!document) faults.push(fault('procedure.missing', run.id, null, `the procedure of the run, ${run.digest.slice(0, 12)}, is not kept`));
  return { faults, otherwise: faults.length === 0 ? otherwiseOf(run, document) : null };
}

/** Holds published documents against their digests. */
export async function verifyProcedures(kept: readonly KeptProcedure[], sha256: Sha256): Promise<readonly Fault[]> {
  const faults: Fault[] = [];
  for (const { digest, document } of kept)
    if ((await sha256(digestText(document))) !== digest)
      faults.push(fault('procedure.digest', null, null, `the procedure ${document.id}, kept under ${digest.slice(0, 12)}, has been changed`));
  return faults;
}
