import {
  emptyRun,
  foldAll,
  judge,
  planOfRun,
  procedureById,
  verdictWord,
  type Finding,
  type Plan,
  type Procedure,
  type RunEvent,
  type RunState,
  type Verdict,
} from '@grellin/core';
import { releasedEdition } from '@grellin/core/released';
import { array, bool, object, string, type InferType } from 'yup';
import { tablesSchema } from './figureTable';
import { jsonSchemaOf, type JsonSchema } from './jsonSchema';
import { digest, id, instant, recordOf, whole } from './primitives';
import { Malformed, parse } from './problem';
import { assetCopySchema, eventSchema, listsSchema, instrumentCopySchema, postedEventSchema } from './runEvent';
import { same } from './same';
import { shape } from './shape';
import { digestText, ENVELOPE_VERSION, GENESIS, sealText, type Link, type Sha256 } from './verify';

export const RUN_FILE_FORMAT = 'grellin-run/1';
/** A run file that carries its chain: every event in the envelope that the server stored it in, and the head. */
export const PROVED_RUN_FILE_FORMAT = 'grellin-run/2';

const MOST_EVENTS = 200_000;

/** The run file, `grellin-run/1`. */
export const runFileSchema = object({
  format: string().required().oneOf([RUN_FILE_FORMAT]),
  procedure: object({ id: id(), edition: id() }).required().noUnknown(),
  ruleSet: id(),
  startedAt: instant(),
  clock: string<'live' | 'simulated'>().required().oneOf(['live', 'simulated']),
  assets: recordOf(assetCopySchema),
  instruments: recordOf(instrumentCopySchema),
  lists: listsSchema,
  tables: tablesSchema,
  events: array().of(postedEventSchema).required().max(MOST_EVENTS, 'high'),
})
  .required()
  .noUnknown();

export type RunFile = InferType<typeof runFileSchema>;

const linkSchema = shape({
  run: id(),
  seq: whole(1),
  lease: whole(0),
  late: bool().required(),
  by: id(),
  storedAt: instant(),
  previous: digest(),
  event: eventSchema,
  version: whole(1, ENVELOPE_VERSION),
  hash: digest(),
});
same<InferType<typeof linkSchema>, Link>(true);

/** The run file, `grellin-run/2`: nothing of it stands beside the chain but which procedure its opening names, and where the chain ends. */
export const provedRunFileSchema = object({
  format: string<typeof PROVED_RUN_FILE_FORMAT>().required().oneOf([PROVED_RUN_FILE_FORMAT]),
  procedure: object({ id: id(), edition: id() }).required().noUnknown(),
  head: object({ seq: whole(1), hash: digest() })
    .required()
    .noUnknown(),
  chain: array().of(linkSchema).required().min(1, 'short').max(MOST_EVENTS, 'high'),
})
  .required()
  .noUnknown();

export interface ProvedRunFile {
  readonly format: typeof PROVED_RUN_FILE_FORMAT;
  readonly procedure: { readonly id: string; readonly edition: string };
  readonly head: { readonly seq: number; readonly hash: string };
  readonly chain: readonly Link[];
}

/** The published JSON Schema of the run file that carries its chain. */
export function provedRunFileJsonSchema(): JsonSchema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: 'urn:grellin:schema:run:2',
    title: 'Grellin run file, edition 2',
    ...jsonSchemaOf(provedRunFileSchema),
  };
}

/** The published JSON Schema of the run file. */
export function runFileJsonSchema(): JsonSchema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: 'urn:grellin:schema:run:1',
    title: 'Grellin run file, edition 1',
    ...jsonSchemaOf(runFileSchema),
  };
}

const flaw = (path: string, code: string, message: string): Malformed => new Malformed([{ path, code, message }]);

/** Each source counts from 1 without a hole and its clock never goes back; no event stands twice. */
function checkSources(events: readonly RunEvent[]): void {
  const last = new Map<string, { n: number; at: number }>();
  const ids = new Set<string>();
  events.forEach((e, i) => {
    const before = last.get(e.source) ?? { n: 0, at: 0 };
    if (ids.has(e.id)) throw flaw(`events[${i}].id`, 'idRepeated', `${e.id} stands twice`);
    if (e.n !== before.n + 1) throw flaw(`events[${i}].n`, 'countWrong', `source ${e.source} counts ${e.n} after ${before.n}`);
    if (e.at < before.at) throw flaw(`events[${i}].at`, 'timeBack', `source ${e.source} goes back from ${before.at} ms to ${e.at} ms`);
    ids.add(e.id);
    last.set(e.source, { n: e.n, at: e.at });
  });
}

export interface LoadedRun {
  readonly plan: Plan;
  readonly state: RunState;
}

/** What stands behind a run file: the head of its chain, or nothing. */
export type Proof = { readonly head: string } | 'unproved';

/** Stands for the digest where a file names its procedure by id and edition. */
const BY_EDITION = '0'.repeat(64);

/** Today's edition of a procedure, or an earlier one that is named; today's too where nobody knows the one that is named, to say so. */
function editionOf(id: string, edition: string): Procedure | undefined {
  const today = procedureById(id);
  return today?.edition === edition ? today : (releasedEdition(id, edition) ?? today);
}

/** The document that a file names, or the one that was given for it. */
function documentOf(named: { readonly id: string; readonly edition: string }, own: Procedure | undefined): Procedure {
  const procedure = own ?? editionOf(named.id, named.edition);
  if (procedure && procedure.id !== named.id)
    throw flaw('procedure.id', 'procedureUnknown', `the run is one of ${named.id}, and the procedure given is ${procedure.id}`);
  if (!procedure) throw flaw('procedure.id', 'procedureUnknown', `there is no procedure ${named.id}`);
  if (procedure.edition !== named.edition) throw flaw('procedure.edition', 'editionUnknown', `edition ${named.edition} of ${procedure.id} is not known here`);
  return procedure;
}

/** Follows a file's chain from its first event to its head. @throws Malformed at the first link that is not what was stored */
async function checkChain({ head, chain }: ProvedRunFile, sha256: Sha256): Promise<void> {
  const run = chain[0]?.run ?? '';
  let previous = GENESIS;
  for (const [i, link] of chain.entries()) {
    const where = `chain[${String(i)}]`;
    if (link.seq !== i + 1)
      throw flaw(`${where}.seq`, 'chainOrder', `event ${String(link.seq)} stands where ${String(i + 1)} should: something was taken out or moved`);
    if (link.run !== run) throw flaw(`${where}.run`, 'chainRun', `it belongs to run ${link.run}`);
    if (link.previous !== previous) throw flaw(`${where}.previous`, 'chainBroken', 'it does not follow the event before it');
    if ((await sha256(sealText(link))) !== link.hash) throw flaw(`${where}.hash`, 'chainChanged', 'it has been changed since it was stored');
    previous = link.hash;
  }
  if (head.seq !== chain.length || head.hash !== previous)
    throw flaw('head', 'chainEnd', `the chain ends at event ${String(chain.length)}, the head says ${String(head.seq)}: something was taken off its end`);
}

/** Reads a run file that carries its chain: nothing is believed of it before the chain has been followed to its head. */
async function loadProved(value: unknown, sha256: Sha256, own?: Procedure): Promise<LoadedRun & { readonly proof: Proof }> {
  const file: ProvedRunFile = parse(provedRunFileSchema, value);
  await checkChain(file, sha256);
  const events = file.chain.filter((l) => !l.late).map((l) => l.event);
  const opened = events[0];
  if (opened?.kind !== 'opened') throw flaw('chain[0].event', 'chainOpening', 'a run begins with its opening');
  const procedure = documentOf(file.procedure, own);
  if ((await sha256(digestText(procedure))) !== opened.procedure)
    throw flaw(
      'procedure',
      'procedureChanged',
      `the run was made by another document than the one known here as ${procedure.id}, edition ${procedure.edition}`,
    );
  const made = planOfRun(procedure, opened);
  if (!made.ok) throw flaw('chain[0].event', made.refusal.code, Object.values(made.refusal.values).join(' '));
  return { plan: made.plan, state: foldAll(events, emptyRun), proof: { head: file.head.hash } };
}

/**
 * Reads a run file of either edition. One without a chain is read, and proves nothing of where its events came from.
 * @param value what JSON.parse gave
 * @param own the procedure of the run, where it is not one of the built-in ones
 * @throws Malformed with the path of what is wrong: with a chain, of the first event that was taken out, moved or changed
 */
export async function readRunFile(value: unknown, sha256: Sha256, own?: Procedure): Promise<LoadedRun & { readonly proof: Proof }> {
  const format = typeof value === 'object' && value !== null && 'format' in value ? value.format : undefined;
  return format === PROVED_RUN_FILE_FORMAT ? loadProved(value, sha256, own) : { ...loadRun(value, own), proof: 'unproved' };
}

/**
 * Reads a run file of the first edition and folds its events.
 * @param value what JSON.parse gave
 * @param own the procedure of the run, where it is not one of the built-in ones
 * @throws Malformed with the path of what is wrong
 */
export function loadRun(value: unknown, own?: Procedure): LoadedRun {
  const file = parse(runFileSchema, value);
  const procedure = documentOf(file.procedure, own);
  const { startedAt, ruleSet, clock, assets, instruments, lists, tables } = file;
  const opening = { startedAt, procedure: BY_EDITION, ruleSet, assets, instruments, clock, ...(lists ? { lists } : {}), ...(tables ? { tables } : {}) };
  const made = planOfRun(procedure, opening);
  if (!made.ok) {
    const where = made.refusal.code === 'plan.ruleSetUnknown' ? 'ruleSet' : 'assets';
    throw flaw(where, made.refusal.code, Object.values(made.refusal.values).join(' '));
  }
  const { events } = file;
  checkSources(events);
  events.forEach((e, i) => {
    if ((e.kind === 'reading' || e.kind === 'samples') && !procedure.channels[e.channel])
      throw flaw(`events[${i}].channel`, 'channelUnknown', `there is no channel ${e.channel}`);
  });
  for (const channel of Object.keys(file.instruments))
    if (!procedure.channels[channel]) throw flaw(`instruments.${channel}`, 'channelUnknown', `there is no channel ${channel}`);
  const opened = { id: 'opened', source: 'file', n: 1, at: 0, kind: 'opened' as const, ...opening };
  return { plan: made.plan, state: foldAll([opened, ...events], emptyRun) };
}

export interface JudgedFile {
  readonly verdict: Verdict;
  readonly word: string;
  /** A finding failed, in whatever attempt: the item may not be used. */
  readonly blocks: boolean;
  /** It was put to its test and did not pass it. */
  readonly holds: boolean;
  readonly condemns: boolean;
  readonly findings: readonly Finding[];
  /** Findings of attempts that a later one replaced. */
  readonly earlier: readonly Finding[];
}

function judged({ plan, state }: LoadedRun): JudgedFile {
  const { verdict, blocks, holds, condemns, findings, earlier } = judge(plan, state);
  return { verdict, word: verdictWord(plan, verdict), blocks, holds, condemns, findings, earlier };
}

/** Judges a run file of the first edition with no server: the same core that the server asks. */
export function judgeRunFile(value: unknown, own?: Procedure): JudgedFile {
  return judged(loadRun(value, own));
}

/** Judges a run file of either edition, and says what proves it. */
export async function judgeProvedRunFile(value: unknown, sha256: Sha256, own?: Procedure): Promise<JudgedFile & { readonly proof: Proof }> {
  const { proof, ...run } = await readRunFile(value, sha256, own);
  return { ...judged(run), proof };
}
