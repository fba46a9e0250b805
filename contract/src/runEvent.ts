import type { AssetCopy, AttributeValue, EventKind, EventOf, InstrumentCopy, RunEvent, RunProof } from '@grellin/core';
import { array, bool, string, type InferType, type ObjectShape } from 'yup';
import { byType, date, dateOrNull, digest, finite, id, instant, maybeDate, oneOf, optionalRecordOf, recordOf, unit, uuid, whole, words } from './primitives';
import { tablesSchema } from './figureTable';
import { quantitySchema } from './quantity';
import { same } from './same';
import { choice, shape } from './shape';

/** A day on the run's clock is as long as a run can be. */
const LONGEST_MS = 86_400_000;
const MOST_VALUES = 20_000;

const yesNo = bool().required();
const attributeWords = words(200);
export const attributeValue = byType<AttributeValue>(
  (given) => (typeof given === 'boolean' ? yesNo : typeof given === 'string' ? attributeWords : quantitySchema),
  [yesNo, attributeWords, quantitySchema],
);

export const attributesSchema = recordOf(attributeValue);

/** What is told of a day, thing by thing, by list. */
export const listsSchema = optionalRecordOf(array().of(attributesSchema).required().min(1, 'short').max(100, 'long'));

/** What an earlier run of the round proved of the rig. */
export const proofSchema = shape({
  run: uuid(),
  record: id(),
  head: digest(),
  at: instant(),
  item: id(),
  stages: array()
    .of(shape({ stage: id(), title: words(200), told: words() }))
    .required()
    .min(1, 'short')
    .max(20, 'long'),
});
same<InferType<typeof proofSchema>, RunProof>(true);

export const assetCopySchema = shape({
  id: id(),
  attributes: attributesSchema,
  carries: array()
    .of(shape({ id: id(), until: date() }))
    .optional()
    .max(10, 'long')
    .default(undefined),
});
same<InferType<typeof assetCopySchema>, AssetCopy>(true);

/** What an instrument can tell apart. */
export const gaugeFields = {
  low: quantitySchema,
  high: quantitySchema,
  resolution: quantitySchema,
  accuracy: quantitySchema,
  correlation: finite().min(0, 'low').max(1, 'high'),
  calibrationDue: dateOrNull(),
  calibratedOn: maybeDate(),
};

export const instrumentCopySchema = shape({ id: id(), fitted: bool().required(), ...gaugeFields });
same<InferType<typeof instrumentCopySchema>, InstrumentCopy>(true);

const head = { id: id(), source: id(), n: whole(1), at: whole(0, LONGEST_MS) };

const event = <const K extends EventKind, F extends ObjectShape>(kind: K, fields: F) => shape({ ...head, kind: choice(kind), ...fields });

const reason = { reason: words().optional() };
const stage = { stage: id(), attempt: whole(1, 100) };

/** The shape of each kind of event. */
export const eventSchemas = {
  opened: event('opened', {
    startedAt: instant(),
    offset: string()
      .matches(/^[+-](0\d|1[0-4]):[0-5]\d$/, 'offset')
      .optional(),
    procedure: digest(),
    ruleSet: id(),
    assets: recordOf(assetCopySchema),
    instruments: recordOf(instrumentCopySchema),
    lists: listsSchema,
    tables: tablesSchema,
    proof: proofSchema.optional().default(undefined),
    clock: choice('live', 'simulated'),
    retestOf: uuid().optional(),
    away: shape({ along: uuid(), takenAt: instant() }).optional().default(undefined),
  }),
  began: event('began', { ...stage, ...reason }),
  ended: event('ended', { ...stage, ...reason }),
  reading: event('reading', { channel: id(), quantity: quantitySchema }),
  samples: event('samples', {
    channel: id(),
    unit: unit(),
    everyMs: finite().moreThan(0, 'low').max(60_000, 'high'),
    values: array().of(finite()).required().min(1, 'low').max(MOST_VALUES, 'high'),
  }),
  marked: event('marked', { mark: id() }),
  disturbed: event('disturbed', { note: words() }),
  answered: event('answered', { item: id(), answer: choice('yes', 'no', 'notApplicable', 'watch'), ...reason }),
  spotted: event('spotted', { spot: id(), grade: choice('none', 'fewAtFirst', 'stream', 'grows') }),
  pictured: event('pictured', {
    picture: digest(),
    shows: choice('look', 'leak', 'plate', 'gauge', 'other'),
    item: id().optional(),
    note: words().optional(),
  }),
  synced: event('synced', { offsetMs: finite(), halfTripMs: finite().min(0, 'low') }),
  gap: event('gap', { wallMs: finite(), tickMs: finite() }),
  withdrawn: event('withdrawn', { event: id(), reason: words() }),
  amended: event('amended', { note: words() }),
  sealed: event('sealed', {}),
  abandoned: event('abandoned', { reason: words() }),
  recorded: event('recorded', {
    record: id(),
    verdict: choice('pass', 'fail', 'undecided', 'void'),
    blocks: bool().required(),
    holds: bool().optional(),
    condemns: bool().optional(),
    counts: bool().required(),
    item: uuid(),
    tag: id(),
    findings: digest(),
    edition: words(100),
    methods: array().of(words(100)).required(),
  }),
};

// The compiler asks for every kind there is, and for every field of it.
same<{ readonly [K in keyof typeof eventSchemas]: InferType<(typeof eventSchemas)[K]> }, { readonly [K in EventKind]: EventOf<K> }>(true);

export const eventSchema = oneOf('kind', eventSchemas);

/** What the server alone says: it opens runs, and says what it found at their end. */
const byTheServer = ['opened', 'recorded'] as const;

function without<T extends object, K extends keyof T & string>(all: T, names: readonly K[]): Omit<T, K> {
  const left: readonly string[] = names;
  return Object.fromEntries(Object.entries(all).filter(([name]) => !left.includes(name))) as Omit<T, K>;
}

/** What anybody else may say: a person's browser, or a run file, whose head stands for the opening. Samples come from a logger's file, and their source says so. */
export const postedEventSchema = oneOf('kind', without(eventSchemas, byTheServer));
same<InferType<typeof postedEventSchema>, Exclude<RunEvent, { kind: 'opened' | 'recorded' }>>(true);
