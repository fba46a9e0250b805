import {
  checkProcedure,
  type Condition,
  type DecisionRule,
  type Limit,
  type Measure,
  type Method,
  type Parameter,
  type Procedure,
  type Prompt,
  type Requirement,
  type RuleSet,
  type Stage,
  type Step,
  type Value,
} from '@grellin/core';
import { array, bool, lazy, object, string, type Lazy, type ObjectSchema, type Schema } from 'yup';
import { describeAs, jsonSchemaOf, type JsonSchema } from './jsonSchema';
import { byType, date, finite, id, oneOf, optionalRecordOf, recordOf, unit, whole, words } from './primitives';
import { Malformed, parse } from './problem';
import { quantitySchema } from './quantity';

/** A document of the procedure language, as an officer writes it: the built-in ones are the same documents. */

const strict = (fields: Readonly<Record<string, unknown>>): ObjectSchema<object> =>
  object(fields as Record<string, Schema>)
    .required()
    .noUnknown();
const only = (): Schema<true | undefined> => bool().oneOf([true]).optional() as Schema<true | undefined>;
const choice = <T extends string>(...all: readonly T[]) =>
  string<T>()
    .required()
    .oneOf([...all]);
const ref = () =>
  string()
    .required()
    .matches(/^[A-Za-z0-9][A-Za-z0-9-]*\.[A-Za-z0-9][A-Za-z0-9]*$/, 'attribute') as unknown as Schema<`${string}.${string}`>;

/** Refers to a schema that contains itself; the published JSON Schema names it under `$defs`. */
const within = <T>(name: string, make: () => Lazy<T> | Schema<T>): Lazy<T> =>
  describeAs(
    lazy(() => make() as Schema<T>),
    () => ({ $ref: `#/$defs/${name}` }),
  );
const conditionAgain = within<Condition>('condition', () => conditionSchema);
const valueAgain = within<Value>('value', () => valueSchema);

const has = (given: unknown, key: string): boolean => typeof given === 'object' && given !== null && Object.hasOwn(given, key);

const allOf = strict({
  all: array().of(conditionAgain).required().max(20, 'long'),
});
const isOneOf = strict({
  attribute: ref(),
  is: array()
    .of(byType<string | boolean>((given) => (typeof given === 'boolean' ? bool().required() : words(200)), [bool().required(), words(200)]))
    .required()
    .min(1, 'short'),
});
const between = strict({
  attribute: ref(),
  from: quantitySchema.optional().default(undefined),
  upTo: quantitySchema.optional().default(undefined),
  below: quantitySchema.optional().default(undefined),
});
const conditionSchema: Lazy<Condition> = byType<Condition>(
  (given) => (has(given, 'all') ? allOf : has(given, 'is') ? isOneOf : between),
  [allOf, isOneOf, between],
);

const attributeValue = strict({ attribute: ref() });
const rowsValue = strict({
  rows: array()
    .of(strict({ when: conditionAgain, value: valueAgain }))
    .required()
    .min(1, 'short')
    .max(200, 'long'),
});
const formulaValue = strict({ formula: id(), of: recordOf(valueAgain) });
const valueSchema: Lazy<Value> = byType<Value>(
  (given) => (has(given, 'rows') ? rowsValue : has(given, 'formula') ? formulaValue : has(given, 'attribute') ? attributeValue : quantitySchema),
  [quantitySchema, attributeValue, rowsValue, formulaValue],
);

const sourceSchema = strict({ title: words(300), clause: words(300).optional() });

const comparison = () => choice('<', '<=', '>', '>=');
const measures: { readonly [K in Measure]: true } = {
  loss: true,
  lossPerMinute: true,
  end: true,
  ratio: true,
  change: true,
  firstDrop: true,
  graduations: true,
  time: true,
  flow: true,
  pressure: true,
  count: true,
  percent: true,
  elastic: true,
  total: true,
  deviation: true,
  permanent: true,
  blowdown: true,
  spread: true,
  grade: true,
  stroke: true,
  difference: true,
};

const as = <T>(schema: unknown): Schema<T> => schema as Schema<T>; // each shape below names the core's type that it stands for

const parameterSchema = as<Parameter>(strict({ value: valueAgain, source: sourceSchema }));
const limitSchema = as<Limit>(
  strict({
    id: id(),
    stage: id(),
    of: string().required().oneOf(Object.keys(measures)),
    channel: id().optional(),
    op: comparison(),
    value: valueAgain,
    when: conditionAgainOptional(),
    corrected: only(),
    from: date().optional(),
    until: date().optional(),
    condemns: only(),
    round: strict({ unit: unit(), decimals: whole(0, 9) })
      .optional()
      .default(undefined),
    source: sourceSchema,
  }),
);
const requirementSchema = as<Requirement>(strict({ id: id(), text: words(), of: valueAgain, op: comparison(), value: valueAgain, source: sourceSchema }));
const promptSchema = as<Prompt>(strict({ stage: id(), every: quantitySchema, text: words(), byEye: only(), source: sourceSchema }));

/** A condition that may be left out. */
function conditionAgainOptional(): Lazy<Condition | undefined> {
  return describeAs(
    lazy(
      (given: unknown) =>
        (given === undefined ? object().optional().default(undefined) : (conditionSchema as unknown as Schema<Condition>)) as Schema<Condition | undefined>,
    ),
    () => ({ $ref: '#/$defs/condition', optional: true }),
  );
}

const stepBase = { id: id(), text: words() };
const stepSchema = oneOf<Step>('kind', {
  act: strict({ ...stepBase, kind: choice('act') }),
  wait: strict({ ...stepBase, kind: choice('wait'), s: id() }),
  reach: strict({ ...stepBase, kind: choice('reach'), channel: id(), low: id(), high: id(), orFails: only() }),
});

const window = strict({ low: id(), high: id() });
const gas = strict({ volume: ref().optional(), flexible: only(), breathed: only(), temperature: id().optional(), barometer: id().optional() })
  .optional()
  .default(undefined);
const channels = array().of(id()).required().min(1, 'short').max(20, 'long');
const item = strict({ id: id(), text: words(), automatic: only(), optional: only(), condemns: only() });
const methodShapes: { readonly [K in Method['kind']]: ObjectSchema<object> } = {
  decay: strict({ kind: choice('decay'), channels, hold: id(), start: window, top: id().optional(), firstDropAfter: id().optional(), gas }),
  halfLife: strict({ kind: choice('halfLife'), channel: id(), start: window, gas }),
  makeUpFlow: strict({ kind: choice('makeUpFlow'), pressure: id(), flow: id(), band: window, hold: id() }),
  eventPressure: strict({ kind: choice('eventPressure'), channels, mark: id(), text: words(), take: string().oneOf(['highest', 'lowest']).optional() }),
  elapsed: strict({ kind: choice('elapsed'), channel: id(), from: id(), to: id(), speed: id().optional() }),
  expansion: strict({
    kind: choice('expansion'),
    rig: choice('jacket', 'direct'),
    pressure: id(),
    water: id(),
    test: strict({ low: id(), high: id(), repeatLow: id().optional(), repeatHigh: id().optional() }),
    hold: id(),
    mass: id().optional(),
    temperature: id().optional(),
    certificate: id().optional(),
  }),
  relief: strict({ kind: choice('relief'), channel: id(), repeats: whole(1, 20), set: id() }),
  survey: strict({
    kind: choice('survey'),
    outline: id(),
    route: array()
      .of(strict({ id: id(), text: words() }))
      .required()
      .min(1, 'short')
      .max(200, 'long'),
  }),
  stroke: strict({
    kind: choice('stroke'),
    axles: array()
      .of(strict({ id: id(), title: words(), left: id(), right: id(), when: conditionAgainOptional() }))
      .required()
      .min(1, 'short'),
  }),
  check: strict({ kind: choice('check'), items: array().of(item).required().min(1, 'short').max(100, 'long') }),
};
const methodSchema = oneOf<Method>('kind', methodShapes);

const stageSchema = as<Stage>(
  strict({
    id: id(),
    role: id(),
    title: words(200),
    when: conditionAgainOptional(),
    attempts: whole(1, 100),
    onFail: choice('continue', 'endRun'),
    phase: choice('gather', 'precondition', 'look', 'rig', 'test', 'aftercare'),
    steps: array().of(stepSchema).required().max(50, 'long'),
    method: methodSchema,
  }),
);

const decisionSchema = oneOf<DecisionRule>('kind', {
  simple: strict({ kind: choice('simple') }),
  guarded: strict({ kind: choice('guarded'), confidence: finite().moreThan(0.5, 'low').lessThan(1, 'high') }),
});

const ids = array().of(id()).required().max(100, 'long');
const order = byType<readonly string[] | 'free'>((given) => (typeof given === 'string' ? choice('free') : ids), [choice('free'), ids]);
const ruleSetSchema = as<RuleSet>(
  strict({
    id: id(),
    title: words(200),
    edition: words(40),
    note: words(),
    suits: conditionAgainOptional(),
    order,
    strict: only(),
    requires: array().of(requirementSchema).optional().max(50, 'long'),
    skip: ids,
    holdFrom: optionalRecordOf(id()),
    prompts: array().of(promptSchema).optional().max(20, 'long'),
    parameters: recordOf(parameterSchema),
    limits: array().of(limitSchema).required().max(200, 'long'),
    decision: decisionSchema,
  }),
);

const pair = (a: string, b: string) => strict({ [a]: id(), [b]: words() });

export const procedureSchema = strict({
  id: id(),
  edition: words(40),
  title: words(200),
  verdictWords: strict({ pass: words(40), fail: words(40) }),
  bring: array().of(words()).optional().max(50, 'long'),
  warning: words().optional(),
  sources: array().of(sourceSchema).required().max(50, 'long'),
  roles: recordOf(strict({ classes: ids, optional: only() })),
  channels: recordOf(strict({ role: id(), unit: unit(), title: words(200), optional: only() })),
  stages: array().of(stageSchema).required().min(1, 'short').max(100, 'long'),
  ruleSets: array().of(ruleSetSchema).required().min(1, 'short').max(50, 'long'),
  cautions: array().of(pair('before', 'text')).required().max(200, 'long'),
  faults: array()
    .of(strict({ stage: id(), sign: words(), cause: words(), next: words() }))
    .required()
    .max(200, 'long'),
});

/** The published JSON Schema of a procedure. */
export function procedureJsonSchema(): JsonSchema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: 'urn:grellin:schema:procedure:1',
    title: 'Grellin procedure, edition 1',
    ...jsonSchemaOf(procedureSchema),
    $defs: { condition: jsonSchemaOf(conditionSchema), value: jsonSchemaOf(valueSchema) },
  };
}

/**
 * Reads a procedure: its shape first, then what `checkProcedure` asks of every document.
 * @param value what JSON.parse gave
 * @throws Malformed with the path of what is wrong
 */
export function loadProcedure(value: unknown): Procedure {
  const document = parse(procedureSchema as unknown as Schema<Procedure>, value);
  const flaws = checkProcedure(document);
  if (flaws.length > 0) throw new Malformed(flaws.map((f) => ({ path: f.path, code: f.code, message: `${f.code}: ${f.about}` })));
  return document;
}
