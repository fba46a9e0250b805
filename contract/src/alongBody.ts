import { array, object, type InferType } from 'yup';
import { instant, uuid, whole, words } from './primitives';
import { newRunSchema } from './runBody';
import { postedEventSchema } from './runEvent';

/** Bodies about what a device takes along, to work with while it is away from the server. */

/** As many items as one device takes along, and for so many hours at most: a shift, and the way home from it. */
export const MOST_ALONG = 100;
export const LONGEST_ALONG_H = 72;

export const takeAlongSchema = object({
  assets: array().of(uuid()).required().min(1, 'low').max(MOST_ALONG, 'high'),
  hours: whole(1, LONGEST_ALONG_H),
})
  .required()
  .noUnknown();
export type TakeAlong = InferType<typeof takeAlongSchema>;

/** A run that was carried out away, whole: as it was opened, and everything that was said of it. */
export const handInSchema = object({
  /** What the device was given with what it took along. */
  secret: words(100),
  run: uuid(),
  /** The id of its opening event. */
  opening: uuid(),
  given: newRunSchema,
  startedAt: instant(),
  events: array().of(postedEventSchema).required().min(1, 'low').max(5000, 'high'),
})
  .required()
  .noUnknown();
export type HandIn = InferType<typeof handInSchema>;

/** Asks how it stands with what a device took along: its secret answers for it, and nobody is signed in. */
export const alongSecretSchema = object({ secret: words(100) })
  .required()
  .noUnknown();
export type AlongSecret = InferType<typeof alongSecretSchema>;
