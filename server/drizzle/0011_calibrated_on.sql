ALTER TABLE "instrument" ADD COLUMN "calibrated_on" date;--> statement-breakpoint
-- What is known of it from the calibrations that were kept.
UPDATE instrument SET calibrated_on = (SELECT max(c."on") FROM calibration c WHERE c.instrument = instrument.id);
