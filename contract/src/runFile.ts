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
import { array, object, string, type InferType } from 'yup';
import { jsonSchemaOf, type JsonSchema } from './jsonSchema';
import { instant, id, recordOf } from './primitives';
import { Malformed, parse } from './problem';
import { assetCopySchema, instrumentCopySchema, postedEventSchema } from './runEvent';

export const RUN_FILE_FORMAT = 'grellin-run/1';

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
  events: array().of(postedEventSchema).required().max(MOST_EVENTS, 'high'),
})
  .required()
  .noUnknown();

export type RunFile = InferType<typeof runFileSchema>;

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

/** Stands for the digest where a file names its procedure by id and edition. */
const BY_EDITION = '0'.repeat(64);

/** Today's edition of a procedure, or an earlier one that is named; today's too where nobody knows the one that is named, to say so. */
function editionOf(id: string, edition: string): Procedure | undefined {
  const today = procedureById(id);
  return today?.edition === edition ? today : (releasedEdition(id, edition) ?? today);
}

/**
 * Reads a run file and folds its events.
 * @param value what JSON.parse gave
 * @param own the procedure of the run, where it is not one of the built-in ones
 * @throws Malformed with the path of what is wrong
 */
export function loadRun(value: unknown, own?: Procedure): LoadedRun {
  const file = parse(runFileSchema, value);
  const procedure = own ?? editionOf(file.procedure.id, file.procedure.edition);
  if (procedure && procedure.id !== file.procedure.id)
    throw flaw('procedure.id', 'procedureUnknown', `the run is one of ${file.procedure.id}, and the procedure given is ${procedure.id}`);
  if (!procedure) throw flaw('procedure.id', 'procedureUnknown', `there is no procedure ${file.procedure.id}`);
  if (procedure.edition !== file.procedure.edition)
    throw flaw('procedure.edition', 'editionUnknown', `edition ${file.procedure.edition} of ${procedure.id} is not known here`);
  const { startedAt, ruleSet, clock, assets, instruments } = file;
  const opening = { startedAt, procedure: BY_EDITION, ruleSet, assets, instruments, clock };
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
  readonly findings: readonly Finding[];
}

/** Judges a run file with no server: the same core that the server asks. */
export function judgeRunFile(value: unknown, own?: Procedure): JudgedFile {
  const { plan, state } = loadRun(value, own);
  const result = judge(plan, state);
  return { verdict: result.verdict, word: verdictWord(plan, result.verdict), findings: result.findings };
}
