import { assetClass, grades, isInterval, unitRow, type Grade, type Quantity } from '@grellin/core';
import { array, bool, mixed, object, string, type InferType } from 'yup';
import { dateOrNull, dayOrMonth, finite, id, optionalRecordOf, recordOf, uuid, whole, words } from './primitives';
import { quantitySchema } from './quantity';
import { attributesSchema, postedEventSchema } from './runEvent';

/** Bodies and query strings of the API. Each is strict: unknown keys are refused and nothing is coerced. */

export const roles = ['officer', 'tester', 'reader'] as const;
export type AccountRole = (typeof roles)[number];

export const intervalText = string()
  .required()
  .test('interval', 'interval', (v) => isInterval(v));

/** A calendar interval, or null where there is none. */
export const intervalOrNull = () =>
  string()
    .nullable()
    .test({ name: 'interval', message: 'interval', skipAbsent: true, test: (v) => v === null || v === undefined || isInterval(v) });

export const signInSchema = object({ name: id(), password: words(200) })
  .required()
  .noUnknown();
export type SignIn = InferType<typeof signInSchema>;

export const newRunSchema = object({
  procedure: id(),
  ruleSet: id(),
  /** Asset ids by role. */
  assets: recordOf(uuid()),
  /** Instrument ids by channel. */
  instruments: recordOf(uuid()),
  /** Figures of the day by role and attribute, in the place of what the asset carries: hours since a delivery, the ullage. */
  figures: optionalRecordOf(recordOf(quantitySchema)),
  /** A simulated instrument whose rig stands for the item, where nothing of it is read. */
  rig: uuid().optional(),
  retestOf: uuid().optional(),
  obligation: uuid().optional(),
})
  .required()
  .noUnknown();
export type NewRun = InferType<typeof newRunSchema>;

/** The lease under which events come, and what it was given out with; an officer's amendment of a closed run needs no secret. */
export const appendSchema = object({
  lease: whole(1),
  secret: words(100).optional(),
  events: array().of(postedEventSchema).required().min(1, 'low').max(500, 'high'),
})
  .required()
  .noUnknown();

export const rigCommandSchema = object({
  act: mixed<'reset' | 'hand' | 'free' | 'step' | 'until'>().required().oneOf(['reset', 'hand', 'free', 'step', 'until']),
  /** reset: the seeded fault. */
  fault: words(60).optional(),
  /** reset: what its noise starts from; the same seed makes the same readings again. */
  seed: whole(0, 1_000_000).optional(),
  /** hand: what the hand does, and the gauge pressure it aims at, Pa. */
  move: words(40).optional(),
  to: whole(-100_000, 100_000_000).optional(),
  /** free: times real time, 0 stands still. */
  speed: whole(0, 60).optional(),
  /** step: seconds to let pass; until: the most that may pass. */
  seconds: whole(1, 7200).optional(),
  /** until: what must happen. */
  event: words(80).optional(),
})
  .required()
  .noUnknown();
export type RigCommand = InferType<typeof rigCommandSchema>;

export const newLeakSchema = object({
  run: uuid(),
  outline: id().nullable().defined(),
  /** Shares of the drawing's width and height. */
  x: finite().min(0, 'low').max(1, 'high').nullable().defined(),
  y: finite().min(0, 'low').max(1, 'high').nullable().defined(),
  place: words(200),
  grade: mixed<Grade>()
    .required()
    .oneOf([...grades]),
})
  .required()
  .noUnknown();
export type NewLeak = InferType<typeof newLeakSchema>;

export const amendSchema = object({ note: words(2000) })
  .required()
  .noUnknown();

export const newAssetSchema = object({
  tag: id(),
  serial: id(),
  class: id(),
  title: words(120),
  place: words(120),
  practice: bool().required(),
  attributes: attributesSchema,
  /** A day, or a month where the day is not known. */
  madeOn: dayOrMonth(),
  life: intervalOrNull().optional(),
})
  .required()
  .noUnknown();
export type NewAsset = InferType<typeof newAssetSchema>;

/** What is wrong with an asset's attributes: each must be one of its class, and of its kind. */
export function attributeFlaws(assetClassId: string, attributes: Readonly<Record<string, Quantity | string | boolean>>): readonly string[] {
  const known = assetClass(assetClassId);
  if (!known) return ['class'];
  return Object.entries(attributes)
    .filter(([name, value]) => {
      const type = known.attributes.find((a) => a.id === name)?.type;
      if (typeof value === 'string') return type?.kind !== 'words';
      if (typeof value === 'boolean') return type?.kind !== 'yesNo';
      return type?.kind !== 'quantity' || unitRow(value.unit)?.dimension !== type.dimension;
    })
    .map(([name]) => name);
}

export const newInstrumentSchema = object({
  tag: id(),
  title: words(120),
  serial: id().optional(),
  place: words(120).optional(),
  fittedTo: uuid().nullable().defined(),
  low: quantitySchema,
  high: quantitySchema,
  resolution: quantitySchema,
  accuracy: quantitySchema,
  correlation: finite().min(0, 'low').max(1, 'high'),
  calibrationDue: dateOrNull(),
  /** `entry/device/input`; null where it is read by eye. */
  address: words(120).nullable().defined(),
  /** The rig behind a simulated instrument. */
  rig: id().nullable().defined(),
})
  .required()
  .noUnknown();
export type NewInstrument = InferType<typeof newInstrumentSchema>;

export const newAccountSchema = object({
  name: id(),
  fullName: words(120),
  role: mixed<AccountRole>()
    .required()
    .oneOf([...roles]),
  password: words(200).min(12, 'low'),
})
  .required()
  .noUnknown();
export type NewAccount = InferType<typeof newAccountSchema>;

const role = () =>
  mixed<AccountRole>()
    .required()
    .oneOf([...roles]);

/** A person whom an officer adds: the password is the program's, for once. */
export const newPersonSchema = object({ name: id(), fullName: words(120), role: role() })
  .required()
  .noUnknown();
export type NewPerson = InferType<typeof newPersonSchema>;

export const accountChangeSchema = object({
  name: id().optional(),
  fullName: words(120).optional(),
  role: role().optional(),
  disabled: bool().optional(),
})
  .required()
  .noUnknown();
export type AccountChange = InferType<typeof accountChangeSchema>;

/** As long as a sentence may be, and no shorter than twelve characters. */
export const newPassword = () => words(200).min(12, 'low');

export const passwordChangeSchema = object({ old: words(200), password: newPassword() })
  .required()
  .noUnknown();
export type PasswordChange = InferType<typeof passwordChangeSchema>;

export const firstOfficerSchema = object({ token: words(100), name: id(), fullName: words(120), password: newPassword() })
  .required()
  .noUnknown();
export type FirstOfficer = InferType<typeof firstOfficerSchema>;
