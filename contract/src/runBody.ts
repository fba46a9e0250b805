import { array, bool, mixed, object, type InferType } from 'yup';
import { id, optionalRecordOf, recordOf, uuid, whole, words } from './primitives';
import { quantitySchema } from './quantity';
import { listsSchema, postedEventSchema } from './runEvent';

/** Bodies about runs, and about the rig beside one. */

export const newRunSchema = object({
  procedure: id(),
  ruleSet: id(),
  /** Asset ids by role. */
  assets: recordOf(uuid()),
  /** Instrument ids by channel. */
  instruments: recordOf(uuid()),
  /** Figures of the day by role and attribute, in the place of what the asset carries: hours since a delivery, the ullage. */
  figures: optionalRecordOf(recordOf(quantitySchema)),
  /** What is told of the day, thing by thing, by list: the tanks of a station, the vaporisers of a machine. */
  lists: listsSchema,
  /** Of those, what nobody would expect of such a thing and is meant all the same: names of attributes. */
  sure: array().of(id()).optional().max(40, 'high'),
  /** A simulated instrument whose rig stands for the item, where nothing of it is read. */
  rig: uuid().optional(),
  retestOf: uuid().optional(),
  obligation: uuid().optional(),
})
  .required()
  .noUnknown();
export type NewRun = InferType<typeof newRunSchema>;

/** As many items as one round takes on: a day's work of several people. */
export const MOST_IN_ROUND = 200;

/** Items of a round. */
const roundAssets = () => array().of(uuid()).max(MOST_IN_ROUND, 'high');

/** A round: by which rules, with which gauges, and of which items. */
export const newRoundSchema = object({
  procedure: id(),
  ruleSet: id(),
  /** Instrument ids by channel; left out, the gauges and the rig are those that these rules were last carried out with. */
  instruments: optionalRecordOf(uuid()),
  rig: uuid().optional(),
  /** What it is to test, in the order in which it is gone to; more is added by scanning it. */
  assets: roundAssets().optional(),
})
  .required()
  .noUnknown();
export type NewRound = InferType<typeof newRoundSchema>;

/** The next item of a round: what was scanned or typed from it, its serial or its tag. */
export const roundItemSchema = object({
  code: words(200),
  /** The rig is proved anew for it, though it was proved before. */
  proveAgain: bool().optional(),
  /** It is opened though somebody else has it: whoever opens it has it then. */
  takeOver: bool().optional(),
})
  .required()
  .noUnknown();
export type RoundItem = InferType<typeof roundItemSchema>;

/** More items of a round. */
export const roundAddSchema = object({ assets: roundAssets().required().min(1, 'low') })
  .required()
  .noUnknown();
export type RoundAdd = InferType<typeof roundAddSchema>;

/** Who is to have items of a round: oneself, another to whom they are handed, or nobody, as they are put back. */
export const roundTakeSchema = object({
  assets: roundAssets().required().min(1, 'low'),
  /** Who has them, as far as is known where this is asked: it is refused where somebody has taken one meanwhile. */
  from: uuid().nullable().defined(),
  to: uuid().nullable().defined(),
})
  .required()
  .noUnknown();
export type RoundTake = InferType<typeof roundTakeSchema>;

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

export const amendSchema = object({ note: words(2000) })
  .required()
  .noUnknown();
