import { bool, mixed, object, type InferType } from 'yup';
import { id, words } from './primitives';

/** Bodies about people who sign in. Each body is strict: unknown keys are refused and nothing is coerced. */

export const roles = ['officer', 'tester', 'reader'] as const;
export type AccountRole = (typeof roles)[number];

export const signInSchema = object({ name: id(), password: words(200) })
  .required()
  .noUnknown();
export type SignIn = InferType<typeof signInSchema>;

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
