import type { CalibrationPoint, Quantity, Verdict } from '@grellin/core';
import { boolean, doublePrecision, index, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { asset } from './asset';
import { instant, isoDate, key } from './columns';

/** What an instrument can tell apart. Who it is, and where, stands in its row of the register, which has the same id. */
export const instrument = pgTable('instrument', {
  id: uuid('id')
    .primaryKey()
    .references(() => asset.id),
  /** A gauge fitted to an item; null for a test instrument. */
  fittedTo: uuid('fitted_to').references(() => asset.id),
  low: jsonb('low').$type<Quantity>().notNull(),
  high: jsonb('high').$type<Quantity>().notNull(),
  resolution: jsonb('resolution').$type<Quantity>().notNull(),
  accuracy: jsonb('accuracy').$type<Quantity>().notNull(),
  correlation: doublePrecision('correlation').notNull(),
  calibrationDue: isoDate('calibration_due'),
  calibratedOn: isoDate('calibrated_on'),
  /** Where its readings come from, `entry/device/input`; the entry is a name in the server's allow-list. Null: read by eye. */
  address: text('address'),
  simulated: boolean('simulated').notNull(),
  /** The simulated rig behind it. */
  rig: text('rig'),
});

/** What a laboratory found, and left. Only added to. */
export const calibration = pgTable(
  'calibration',
  {
    id: key(),
    instrument: uuid('instrument')
      .notNull()
      .references(() => instrument.id),
    on: isoDate('on').notNull(),
    due: isoDate('due').notNull(),
    laboratory: text('laboratory').notNull(),
    certificate: text('certificate').notNull(),
    points: jsonb('points').$type<readonly CalibrationPoint[]>().notNull(),
    /** As found beyond the stated limits of error: everything measured since the calibration before it is in doubt. */
    outOfTolerance: boolean('out_of_tolerance').notNull(),
    by: uuid('by')
      .notNull()
      .references(() => account.id),
    at: instant('at').notNull(),
  },
  (t) => [index('calibration_newest').on(t.instrument, t.on)],
);

/** A look at what an instrument shows at nothing. Only added to. */
export const zeroCheck = pgTable(
  'zero_check',
  {
    id: key(),
    instrument: uuid('instrument')
      .notNull()
      .references(() => instrument.id),
    shows: jsonb('shows').$type<Quantity>().notNull(),
    note: text('note').notNull(),
    by: uuid('by')
      .notNull()
      .references(() => account.id),
    at: instant('at').notNull(),
  },
  (t) => [index('zero_check_newest').on(t.instrument, t.at)],
);

/** A run that was measured with an instrument found out of tolerance, judged again without its error. The sealed record stays as it is. */
export const recalled = pgTable(
  'recalled',
  {
    calibration: uuid('calibration')
      .notNull()
      .references(() => calibration.id),
    /** The run; its table refers to this one's, so that no reference is drawn here. */
    run: uuid('run').notNull(),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
    procedure: text('procedure').notNull(),
    before: text('before').$type<Verdict>().notNull(),
    after: text('after').$type<Verdict>().notNull(),
    /** The item has to be tested again. */
    changes: boolean('changes').notNull(),
    /** The deciding finding without the error, in words. */
    words: text('words').notNull(),
    at: instant('at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.calibration, t.run] }), index('recalled_by_asset').on(t.asset)],
);
