import { grades, type Grade } from '@grellin/core';
import { mixed, object, type InferType } from 'yup';
import { finite, id, uuid, words } from './primitives';

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
