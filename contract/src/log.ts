import type { Verdict } from '@grellin/core';
import { mixed, object, type InferType } from 'yup';
import { countText, date, flag, id, uuid, words } from './primitives';
import { same } from './same';

/** What the log can be asked for by how a run ended. */
export const verdicts = ['pass', 'fail', 'undecided', 'void'] as const;
same<(typeof verdicts)[number], Verdict>(true);

/** The question to the log: every part of it is a part of the address of its page. */
export const logQuerySchema = object({
  /** Part of the tag, serial, title or place of an item, or the beginning of a record’s number. */
  q: words(80).optional(),
  /** The station’s days between which it was sealed, both of them counted. */
  from: date().optional(),
  to: date().optional(),
  verdict: mixed<Verdict>().oneOf([...verdicts]),
  procedure: id().optional(),
  /** A gauge that the run was opened with. */
  gauge: uuid().optional(),
  /** Who sealed it. */
  by: uuid().optional(),
  /** Only what was measured, or only what was simulated. */
  simulated: flag(),
  after: words(400).optional(),
  limit: countText(),
}).noUnknown();
export type LogQuery = InferType<typeof logQuerySchema>;
