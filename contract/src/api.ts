import { isInterval } from '@grellin/core';
import { array, mixed, object, string, type InferType } from 'yup';
import { date, id, recordOf, uuid, whole, words } from './primitives';
import { postedEventSchema } from './runEvent';

/** Bodies and query strings of the API. Each is strict: unknown keys are refused and nothing is coerced. */

export const roles = ['officer', 'tester', 'reader'] as const;
export type AccountRole = (typeof roles)[number];

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
  retestOf: uuid().optional(),
  obligation: uuid().optional(),
})
  .required()
  .noUnknown();
export type NewRun = InferType<typeof newRunSchema>;

export const appendSchema = object({ lease: whole(1), events: array().of(postedEventSchema).required().min(1, 'low').max(500, 'high') })
  .required()
  .noUnknown();

export const rigCommandSchema = object({
  act: mixed<'reset' | 'hand' | 'free' | 'step'>().required().oneOf(['reset', 'hand', 'free', 'step']),
  /** reset: the seeded fault. */
  fault: words(60).optional(),
  /** hand: what the hand does, and the gauge pressure it aims at, Pa. */
  move: words(40).optional(),
  to: whole(0, 2_000_000).optional(),
  /** free: times real time, 0 stands still. */
  speed: whole(0, 60).optional(),
  /** step: seconds to let pass. */
  seconds: whole(1, 7200).optional(),
})
  .required()
  .noUnknown();
export type RigCommand = InferType<typeof rigCommandSchema>;

export const amendSchema = object({ note: words(2000) })
  .required()
  .noUnknown();

export const intervalText = string()
  .required()
  .test('interval', 'interval', (v) => isInterval(v));

export const newObligationSchema = object({
  asset: uuid(),
  procedure: id(),
  ruleSet: id(),
  interval: intervalText,
  counting: mixed<'rolling' | 'anchored'>().required().oneOf(['rolling', 'anchored']),
  anchor: date(),
})
  .required()
  .noUnknown();
export type NewObligation = InferType<typeof newObligationSchema>;

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
