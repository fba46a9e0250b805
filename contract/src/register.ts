import {
  assetClasses,
  dueChoices,
  occasionKinds,
  readinessKinds,
  type CalibrationPoint,
  type DueRule,
  type FilledRule,
  type OccasionKind,
  type Readiness,
} from '@grellin/core';
import { array, bool, mixed, object, string, type InferType } from 'yup';
import { itemSchema } from './item';
import { jsonSchemaOf, type JsonSchema } from './jsonSchema';
import { countText, date, finite, flag, id, isText, recordOf, uuid, whole, words, intervalOrNull } from './primitives';
import { quantitySchema } from './quantity';
import { same } from './same';
import { choice } from './shape';

/** Bodies and query strings of the register: what there is, what it owes, what may be used today. */

/** What the register can be sorted by. */
export const registerSorts = ['tag', 'title', 'serial', 'place', 'due', 'used'] as const;
export type RegisterSort = (typeof registerSorts)[number];

export const LONGEST_PAGE = 200;

export const registerQuerySchema = object({
  /** Part of a tag, serial, title or place. */
  q: words(80).optional(),
  class: string().oneOf(assetClasses.map((c) => c.id)),
  place: words(120).optional(),
  state: mixed<Readiness>().oneOf([...readinessKinds]),
  kit: uuid().optional(),
  /** Due on this day or before. */
  dueBy: date().optional(),
  archived: flag(),
  sort: mixed<RegisterSort>().oneOf([...registerSorts]),
  down: flag(),
  /** Where the page before this one ended, as it was told there. */
  after: words(400).optional(),
  limit: countText(),
}).noUnknown();
export type RegisterQuery = InferType<typeof registerQuerySchema>;

export const newOccasionSchema = object({
  assets: array().of(uuid()).required().min(1, 'low').max(500, 'high'),
  kind: mixed<OccasionKind>()
    .required()
    .oneOf([...occasionKinds]),
  /** The day it happened; today where it is left out. */
  on: date().optional(),
  note: words(500).optional(),
})
  .required()
  .noUnknown();
export type NewOccasion = InferType<typeof newOccasionSchema>;

const namesOf = <T extends object>(table: T) => Object.keys(table) as (keyof T & string)[];

/** A rule by which something is owed; what is left out is as it usually is. */
const dueRuleFields = {
  interval: intervalOrNull().defined(),
  counting: choice(...namesOf(dueChoices.counting)),
  anchor: date(),
  early: intervalOrNull(),
  stamp: choice(...namesOf(dueChoices.stamp)).optional(),
  triggers: array()
    .of(choice(...dueChoices.triggers))
    .optional(),
  filled: string<FilledRule>().oneOf(namesOf(dueChoices.filled)).nullable().optional(),
  /** A law's date: it cannot be put off. */
  hard: bool().optional(),
};

export const newObligationSchema = object({ asset: uuid(), procedure: id(), ruleSet: id(), ...dueRuleFields })
  .required()
  .noUnknown();
export type NewObligation = InferType<typeof newObligationSchema>;
same<{ [F in keyof DueRule]: Exclude<NewObligation[F], undefined> }, DueRule>(true);

export const deferralSchema = object({ to: date(), reason: words(500) })
  .required()
  .noUnknown();
export type Deferral = InferType<typeof deferralSchema>;

/** Why what came to no result may be used all the same. */
export const liftSchema = object({ reason: words(500) })
  .required()
  .noUnknown();
export type Lift = InferType<typeof liftSchema>;

/** How a condemned item was put beyond use: when, who did it and by what means. */
export const beyondUseSchema = object({ how: choice('destroyed', 'disabled'), on: date(), words: words(500) })
  .required()
  .noUnknown();
export type BeyondUse = InferType<typeof beyondUseSchema>;

export const proposalSchema = object({ to: date() }).required().noUnknown();

/** A scan is carried as base64; what it may be is told by its first bytes, not by its name. */
export const outsideSchema = object({
  doneOn: date(),
  issuer: words(200),
  number: words(120),
  scan: string()
    .required()
    .max(5_600_000, 'long')
    .matches(/^[A-Za-z0-9+/]+=*$/, 'base64'),
})
  .required()
  .noUnknown();
export type OutsideCertificate = InferType<typeof outsideSchema>;

export const newKitSchema = object({
  name: words(120),
  needs: array()
    .of(
      object({
        class: string()
          .required()
          .oneOf(assetClasses.map((c) => c.id)),
        minimum: whole(1, 999),
      })
        .required()
        .noUnknown(),
    )
    .required()
    .min(1, 'low')
    .max(30, 'high'),
  assets: array().of(uuid()).required().max(500, 'high'),
})
  .required()
  .noUnknown();
export type NewKit = InferType<typeof newKitSchema>;

export const savedViewSchema = object({ name: words(80), query: registerQuerySchema.required(), columns: array().of(id()).required().max(20, 'high') })
  .required()
  .noUnknown();
export type SavedView = InferType<typeof savedViewSchema>;

export const authorisationSchema = object({
  account: uuid(),
  procedures: array().of(id()).required().min(1, 'low').max(100, 'high'),
  until: date(),
  stamp: id(),
})
  .required()
  .noUnknown();
export type Authorisation = InferType<typeof authorisationSchema>;

const point = object({ nominal: quantitySchema, asFound: quantitySchema, asLeft: quantitySchema }).required().noUnknown();

export const calibrationSchema = object({
  on: date(),
  due: date(),
  by: words(200),
  certificate: words(120),
  points: array().of(point).required().min(1, 'low').max(60, 'high'),
})
  .required()
  .noUnknown();
export type NewCalibration = Omit<InferType<typeof calibrationSchema>, 'points'> & { readonly points: readonly CalibrationPoint[] };

export const zeroCheckSchema = object({ shows: quantitySchema, note: words(200).optional() })
  .required()
  .noUnknown();

export const importSchema = object({
  csv: string()
    .required()
    .max(40_000_000, 'long')
    .test({ name: 'characters', message: 'characters', skipAbsent: true, test: (v) => isText(v) }),
  /** Column of the file by field of the register. */
  columns: recordOf(words(200)),
  /** False for a dry run: nothing is written. */
  write: bool().required(),
  /** Figures that nobody would expect of such a thing are meant as they stand; else a row that has one is bad. */
  sure: bool().optional(),
})
  .required()
  .noUnknown();

export const newPlanBenchSchema = object({
  name: words(80),
  /** Procedures that it can be rigged for; empty for any. */
  setups: array().of(id()).required().max(100, 'high'),
  hoursAWeek: finite().min(1, 'low').max(168, 'high'),
})
  .required()
  .noUnknown();
export type NewPlanBench = InferType<typeof newPlanBenchSchema>;

export const keptPlanSchema = object({
  placed: array()
    .of(
      object({ obligation: uuid(), week: whole(0, 20_000), bench: uuid(), fixed: bool().required() })
        .required()
        .noUnknown(),
    )
    .required()
    .max(25_000, 'high'),
})
  .required()
  .noUnknown();
export type KeptPlan = InferType<typeof keptPlanSchema>;

export const REGISTER_FORMAT = 'grellin-register/1';

/** A register's file in JSON. */
export const registerFileSchema = object({
  format: string().required().oneOf([REGISTER_FORMAT]),
  assets: array().of(itemSchema).required(),
})
  .required()
  .noUnknown();

/** The published JSON Schema of a register's file. */
export function registerJsonSchema(): JsonSchema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: 'urn:grellin:schema:register:1',
    title: 'Grellin register, edition 1',
    ...jsonSchemaOf(registerFileSchema),
  };
}
