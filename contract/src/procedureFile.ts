import {
  checkProcedure,
  measures,
  type CheckItem,
  type DecisionRule,
  type Limit,
  type MethodKind,
  type MethodOf,
  type Parameter,
  type Procedure,
  type Prompt,
  type Requirement,
  type ListRow,
  type RuleSet,
  type Shown,
  type Stage,
  type Step,
} from '@grellin/core';
import { array, mixed, string, type InferType } from 'yup';
import { jsonSchemaOf, type JsonSchema } from './jsonSchema';
import { byType, date, finite, id, oneOf, optionally, optionalRecordOf, recordOf, unit, whole, words } from './primitives';
import { Malformed, parse } from './problem';
import { quantitySchema } from './quantity';
import { conditionAgain, has, only, ref, sourceSchema, termsJsonSchema, valueAgain } from './procedureTerms';
import { same } from './same';
import { choice, shape } from './shape';

/** A document of the procedure language, as an officer writes it: the built-in ones are the same documents. */

const comparison = () => choice('<', '<=', '>', '>=');
const parameterSchema = shape({ value: valueAgain, source: sourceSchema });
same<InferType<typeof parameterSchema>, Parameter>(true);
const limitSchema = shape({
  id: id(),
  stage: id(),
  of: choice(...measures),
  channel: id().optional(),
  op: comparison(),
  value: valueAgain,
  when: optionally(conditionAgain),
  corrected: only(),
  from: date().optional(),
  until: date().optional(),
  condemns: only(),
  sends: words().optional(),
  round: shape({ unit: unit(), decimals: whole(0, 9) })
    .optional()
    .default(undefined),
  source: sourceSchema,
});
same<InferType<typeof limitSchema>, Limit>(true);
const requirementSchema = shape({ id: id(), text: words(), of: valueAgain, op: comparison(), value: valueAgain, source: sourceSchema });
same<InferType<typeof requirementSchema>, Requirement>(true);
const promptSchema = shape({ stage: id(), every: quantitySchema, text: words(), byEye: only(), reads: only(), source: sourceSchema });
same<InferType<typeof promptSchema>, Prompt>(true);

const shownOn = shape({ channel: id(), low: id().optional(), high: id().optional(), after: id().optional(), from: id().optional(), fresh: only() });
const shownAgree = shape({ agree: array().of(id()).required().length(2, 'pair'), within: id() });
const shown = optionally(byType<Shown>((given) => (has(given, 'agree') ? shownAgree : shownOn), [shownOn, shownAgree]));
same<InferType<typeof shownOn> | InferType<typeof shownAgree>, Shown>(true);

const stands = optionalRecordOf(id());
const onSetUp = { needs: stands, makes: stands };
const why = words().optional();
const drawing = id().optional();
const stepBase = { id: id(), text: words(), why, drawing, ...onSetUp };
const stepSchema = oneOf('kind', {
  act: shape({ ...stepBase, kind: choice('act'), shown, stays: only() }),
  wait: shape({
    ...stepBase,
    kind: choice('wait'),
    s: id(),
    keep: shape({ channel: id(), low: id(), high: id(), topUps: whole(0, 99) })
      .optional()
      .default(undefined),
    shown,
  }),
  reach: shape({
    ...stepBase,
    kind: choice('reach'),
    channel: id(),
    low: id(),
    high: id(),
    orFails: only(),
    fills: shape({ volume: ref(), most: id() }).optional().default(undefined),
  }),
});
same<InferType<typeof stepSchema>, Step>(true);

const window = shape({ low: id(), high: id() });
const gas = shape({ volume: ref().optional(), flexible: only(), breathed: only(), temperature: id().optional(), barometer: id().optional() })
  .optional()
  .default(undefined);
const channels = array().of(id()).required().min(1, 'short').max(20, 'long');
const item = shape({
  id: id(),
  text: words(),
  why,
  drawing,
  watch: only(),
  sends: words().optional(),
  automatic: only(),
  optional: only(),
  condemns: only(),
  shown,
  for: id().optional(),
  feels: only(),
  times: optionally(byType<number | string>((given) => (typeof given === 'string' ? id() : whole(2, 50)), [whole(2, 50), id()])),
  when: optionally(conditionAgain),
  unless: ref().optional(),
  says: array()
    .of(shape({ words: words(100), value: valueAgain }))
    .optional()
    .max(6, 'long')
    .default(undefined),
  ...onSetUp,
});
same<InferType<typeof item>, CheckItem>(true);
const methodShapes = {
  decay: shape({ kind: choice('decay'), channels, hold: id(), start: window, top: id().optional(), firstDropAfter: id().optional(), gas }),
  halfLife: shape({ kind: choice('halfLife'), channel: id(), start: window, gas }),
  makeUpFlow: shape({ kind: choice('makeUpFlow'), pressure: id(), flow: id(), band: window, hold: id(), compliance: id().optional() }),
  eventPressure: shape({
    kind: choice('eventPressure'),
    channels,
    mark: id(),
    text: words(),
    take: string<'highest' | 'lowest'>().oneOf(['highest', 'lowest']).optional(),
    by: id().optional(),
    stands: shape({ s: id(), within: id() }).optional().default(undefined),
    above: id().optional(),
    below: id().optional(),
  }),
  elapsed: shape({ kind: choice('elapsed'), channel: id(), from: id(), to: id(), speed: id().optional(), second: id().optional() }),
  expansion: shape({
    kind: choice('expansion'),
    rig: choice('jacket', 'direct'),
    pressure: id(),
    water: id(),
    scale: id().optional(),
    working: window.optional().default(undefined),
    test: shape({ low: id(), high: id(), repeatLow: id().optional(), repeatHigh: id().optional() }),
    hold: id(),
    mass: id().optional(),
    temperature: id().optional(),
    certificate: id().optional(),
  }),
  relief: shape({ kind: choice('relief'), channel: id(), repeats: whole(1, 20), set: id() }),
  survey: shape({
    kind: choice('survey'),
    outline: id(),
    each: id().optional(),
    route: array()
      .of(shape({ id: id(), text: words(), why }))
      .required()
      .min(1, 'short')
      .max(200, 'long'),
  }),
  stroke: shape({
    kind: choice('stroke'),
    axles: array()
      .of(shape({ id: id(), title: words(), left: id(), right: id(), when: optionally(conditionAgain) }))
      .required()
      .min(1, 'short'),
  }),
  check: shape({ kind: choice('check'), items: array().of(item).required().min(1, 'short').max(100, 'long') }),
};
const methodSchema = oneOf('kind', methodShapes);
same<{ readonly [K in keyof typeof methodShapes]: InferType<(typeof methodShapes)[K]> }, { readonly [K in MethodKind]: MethodOf<K> }>(true);

const stageSchema = shape({
  id: id(),
  role: id(),
  title: words(200),
  when: optionally(conditionAgain),
  attempts: whole(1, 100),
  onFail: choice('continue', 'endRun'),
  phase: choice('gather', 'precondition', 'look', 'rig', 'test', 'aftercare'),
  steps: array().of(stepSchema).required().max(50, 'long'),
  method: methodSchema,
  proves: only(),
  decides: id().optional(),
  seeks: array().of(id()).optional().max(20, 'long'),
  byNight: shape({ latitude: ref(), longitude: ref() }).optional().default(undefined),
  each: shape({ list: id(), once: array().of(id()).optional().max(20, 'long') })
    .optional()
    .default(undefined),
});
same<InferType<typeof stageSchema>, Stage>(true);

const decisionSchema = oneOf('kind', {
  simple: shape({ kind: choice('simple') }),
  guarded: shape({ kind: choice('guarded'), confidence: finite().moreThan(0.5, 'low').lessThan(1, 'high') }),
});
same<InferType<typeof decisionSchema>, DecisionRule>(true);

const ids = array().of(id()).required().max(100, 'long');
const order = byType<readonly string[] | 'free'>((given) => (typeof given === 'string' ? choice('free') : ids), [choice('free'), ids]);
const ruleSetSchema = shape({
  id: id(),
  title: words(200),
  edition: words(40),
  note: words(),
  suits: optionally(conditionAgain),
  order,
  strict: only(),
  requires: array().of(requirementSchema).optional().max(50, 'long'),
  skip: ids,
  holdFrom: optionalRecordOf(id()),
  prompts: array().of(promptSchema).optional().max(20, 'long'),
  parameters: recordOf(parameterSchema),
  limits: array().of(limitSchema).required().max(200, 'long'),
  decision: decisionSchema,
  byFeel: shape({ finds: words(), misses: words() }).optional().default(undefined),
});
same<InferType<typeof ruleSetSchema>, RuleSet>(true);

const listSchema = shape({
  part: id(),
  title: words(200),
  one: words(200),
  most: whole(1, 100),
  count: array().of(ref()).required().min(1, 'short').max(4, 'long'),
  covers: shape({ by: id(), count: ref() }).optional().default(undefined),
  together: shape({ by: id(), sums: array().of(id()).required().max(20, 'long') })
    .optional()
    .default(undefined),
});
same<InferType<typeof listSchema>, ListRow>(true);

export const procedureSchema = shape({
  id: id(),
  edition: words(40),
  language: mixed<2>().oneOf([2]).optional(),
  title: words(200),
  verdictWords: shape({ pass: words(40), fail: words(40) }),
  claims: string<'tight' | 'in order' | 'within figures'>().oneOf(['tight', 'in order', 'within figures']).optional(),
  bring: array().of(words()).optional().max(50, 'long'),
  warning: words().optional(),
  lists: optionalRecordOf(listSchema),
  tables: optionalRecordOf(shape({ kind: id(), by: ref(), named: ref() })),
  setUp: array().of(item).optional().max(30, 'long'),
  states: optionalRecordOf(shape({ title: words(200), first: id(), ways: recordOf(shape({ said: words(200), put: words(200) })) })),
  never: array()
    .of(shape({ stands: recordOf(id()), why: words() }))
    .optional()
    .max(30, 'long'),
  sources: array().of(sourceSchema).required().max(50, 'long'),
  roles: recordOf(shape({ classes: ids, optional: only(), title: words(60).optional() })),
  channels: recordOf(
    shape({
      role: id(),
      unit: unit(),
      title: words(200),
      optional: only(),
      unless: id().optional(),
      with: id().optional(),
      asks: shape({ upTo: id().optional(), calibratedWithin: id().optional() }).optional().default(undefined),
    }),
  ),
  stages: array().of(stageSchema).required().min(1, 'short').max(100, 'long'),
  ruleSets: array().of(ruleSetSchema).required().min(1, 'short').max(50, 'long'),
  cautions: array()
    .of(shape({ before: id(), text: words() }))
    .required()
    .max(200, 'long'),
  faults: array()
    .of(shape({ stage: id(), sign: words(), cause: words(), next: words() }))
    .required()
    .max(200, 'long'),
});

same<InferType<typeof procedureSchema>, Procedure>(true);

/** The published JSON Schema of a procedure. */
export function procedureJsonSchema(): JsonSchema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: 'urn:grellin:schema:procedure:1',
    title: 'Grellin procedure, edition 1',
    ...jsonSchemaOf(procedureSchema),
    $defs: termsJsonSchema(),
  };
}

/**
 * Reads a procedure: its shape first, then what `checkProcedure` asks of every document.
 * @param value what JSON.parse gave
 * @throws Malformed with the path of what is wrong
 */
export function loadProcedure(value: unknown): Procedure {
  const document = parse(procedureSchema, value);
  const flaws = checkProcedure(document);
  if (flaws.length > 0) throw new Malformed(flaws.map((f) => ({ path: f.path, code: f.code, message: `${f.code}: ${f.about}` })));
  return document;
}
