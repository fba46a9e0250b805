import { object, type InferType } from 'yup';
import { dateOrNull, finite, id, uuid, words } from './primitives';
import { quantitySchema } from './quantity';

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
