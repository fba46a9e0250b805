ALTER TABLE "run" ADD COLUMN "paced" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "rig" uuid;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_rig_instrument_id_fk" FOREIGN KEY ("rig") REFERENCES "public"."instrument"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
UPDATE "run" SET "paced" = true WHERE "clock" = 'simulated';
