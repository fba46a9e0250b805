import type { AssetCopy, AttributeValue, EventKind, EventOf, InstrumentCopy, RunEvent, Verdict } from '@grellin/core';
import { array, bool, object, string, type InferType, type ObjectSchema } from 'yup';
import { byType, dateOrNull, digest, finite, id, instant, oneOf, recordOf, unit, uuid, whole, words } from './primitives';
import { quantitySchema } from './quantity';
import { same } from './same';

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

export const assetCopySchema = object({ id: id(), attributes: attributesSchema }).required().noUnknown();
same<InferType<typeof assetCopySchema>, AssetCopy>(true);

export const instrumentCopySchema = object({
  id: id(),
  fitted: bool().required(),
  low: quantitySchema,
  high: quantitySchema,
  resolution: quantitySchema,
  accuracy: quantitySchema,
  correlation: finite().min(0, 'low').max(1, 'high'),
  calibrationDue: dateOrNull(),
})
  .required()
  .noUnknown();
same<InferType<typeof instrumentCopySchema>, InstrumentCopy>(true);

const head = { id: id(), source: id(), n: whole(1), at: whole(0, LONGEST_MS) };

const event = <K extends EventKind>(kind: K, fields: Readonly<Record<string, unknown>>): ObjectSchema<EventOf<K>> =>
  object({ ...head, kind: string().required().oneOf([kind]), ...fields })
    .required()
    .noUnknown() as unknown as ObjectSchema<EventOf<K>>;

const verdicts: readonly Verdict[] = ['pass', 'fail', 'undecided', 'void'];

const reason = { reason: words().optional() };
const stage = { stage: id(), attempt: whole(1, 100) };

/** The shape of each kind of event. The compiler asks for every kind there is. */
export const eventSchemas: { readonly [K in EventKind]: ObjectSchema<EventOf<K>> } = {
  opened: event('opened', {
    startedAt: instant(),
    offset: string()
      .matches(/^[+-](0\d|1[0-4]):[0-5]\d$/, 'offset')
      .optional(),
    procedure: digest(),
    ruleSet: id(),
    assets: recordOf(assetCopySchema),
    instruments: recordOf(instrumentCopySchema),
    clock: string().required().oneOf(['live', 'simulated']),
    retestOf: uuid().optional(),
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
  answered: event('answered', { item: id(), answer: string().required().oneOf(['yes', 'no', 'notApplicable']), ...reason }),
  spotted: event('spotted', { spot: id(), grade: string().required().oneOf(['none', 'fewAtFirst', 'stream', 'grows']) }),
  synced: event('synced', { offsetMs: finite(), halfTripMs: finite().min(0, 'low') }),
  gap: event('gap', { wallMs: finite(), tickMs: finite() }),
  withdrawn: event('withdrawn', { event: id(), reason: words() }),
  amended: event('amended', { note: words() }),
  sealed: event('sealed', {}),
  abandoned: event('abandoned', { reason: words() }),
  recorded: event('recorded', {
    record: id(),
    verdict: string()
      .required()
      .oneOf([...verdicts]),
    blocks: bool().required(),
    counts: bool().required(),
    item: uuid(),
    tag: id(),
    findings: digest(),
    edition: words(100),
    methods: array().of(words(100)).required(),
  }),
};

export const eventSchema = oneOf<RunEvent>('kind', eventSchemas);

/** What the server alone says. */
export const serverOnly: ReadonlySet<string> = new Set(['opened', 'recorded']);

/** What a person's browser may send: the server alone opens runs, and says what it found at their end. Samples come from a logger's file, and their source says so. */
export const postedEventSchema = oneOf<Exclude<RunEvent, { kind: 'opened' | 'recorded' }>>(
  'kind',
  Object.fromEntries(Object.entries(eventSchemas).filter(([kind]) => !serverOnly.has(kind))),
);
