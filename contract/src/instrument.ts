import { object, type InferType } from 'yup';
import { id, uuid, words } from './primitives';
import { gaugeFields } from './runEvent';

export const newInstrumentSchema = object({
  tag: id(),
  title: words(120),
  serial: id().optional(),
  place: words(120).optional(),
  fittedTo: uuid().nullable().defined(),
  ...gaugeFields,
  /** `entry/device/input`; null where it is read by eye. */
  address: words(120).nullable().defined(),
  /** The rig behind a simulated instrument. */
  rig: id().nullable().defined(),
})
  .required()
  .noUnknown();
export type NewInstrument = InferType<typeof newInstrumentSchema>;
