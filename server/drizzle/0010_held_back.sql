CREATE TABLE "hold_lifted" (
	"record" text PRIMARY KEY NOT NULL,
	"reason" text NOT NULL,
	"by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "put_beyond_use" (
	"asset" uuid PRIMARY KEY NOT NULL,
	"how" text NOT NULL,
	"on" date NOT NULL,
	"words" text NOT NULL,
	"by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "record" ADD COLUMN "holds" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "record" ADD COLUMN "condemns" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "begun" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "standing" ADD COLUMN "condemned_by" text;--> statement-breakpoint
ALTER TABLE "standing" ADD COLUMN "held_by" text;--> statement-breakpoint
ALTER TABLE "standing" ADD COLUMN "untested" text;--> statement-breakpoint
ALTER TABLE "hold_lifted" ADD CONSTRAINT "hold_lifted_record_record_number_fk" FOREIGN KEY ("record") REFERENCES "public"."record"("number") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "hold_lifted" ADD CONSTRAINT "hold_lifted_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "put_beyond_use" ADD CONSTRAINT "put_beyond_use_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "put_beyond_use" ADD CONSTRAINT "put_beyond_use_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "standing_condemned" ON "standing" USING btree ("asset") WHERE condemned_by IS NOT NULL;--> statement-breakpoint
CREATE INDEX "standing_held" ON "standing" USING btree ("asset") WHERE held_by IS NOT NULL;--> statement-breakpoint
CREATE INDEX "standing_untested" ON "standing" USING btree ("due","asset") WHERE untested IS NOT NULL;--> statement-breakpoint
-- What was condemned, or begun in its test stage and not passed, before this was kept.
UPDATE record SET condemns = true WHERE jsonb_path_exists(result, '$.*[*] ? (@.verdict == "fail").reasons[*] ? (@.code == "condemned")');--> statement-breakpoint
UPDATE run SET begun = true FROM procedure p WHERE p.digest = run.digest AND EXISTS (
	SELECT 1 FROM run_event e, jsonb_array_elements(p.document->'stages') AS s WHERE e.run = run.id AND NOT e.late
	AND e.event->>'kind' = 'began' AND e.event->>'stage' = s->>'id' AND s->>'phase' = 'test');--> statement-breakpoint
UPDATE record SET holds = true FROM run WHERE run.id = record.run AND run.begun AND record.verdict <> 'pass';--> statement-breakpoint
DELETE FROM standing;--> statement-breakpoint
GRANT SELECT, INSERT ON hold_lifted, put_beyond_use TO grellin_app;
