ALTER TABLE "instrument" DROP CONSTRAINT "instrument_tag_unique";--> statement-breakpoint
ALTER TABLE "occasion" ADD COLUMN "archived_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "deferral" ADD COLUMN "archived_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "outside_certificate" ADD COLUMN "archived_at" timestamp with time zone;--> statement-breakpoint
-- It can be worked out again, and is when the server starts.
DELETE FROM "standing";--> statement-breakpoint
ALTER TABLE "standing" ADD COLUMN "usable_until" date NOT NULL;--> statement-breakpoint
ALTER TABLE "standing" ADD COLUMN "usable_procedure" text;--> statement-breakpoint
-- Every instrument gets its row of the register; a tag that an item bears already is told apart by a word.
INSERT INTO "asset" ("id", "tag", "serial", "class", "title", "place", "practice", "attributes", "created_at")
SELECT i.id, i.tag || CASE WHEN EXISTS (SELECT 1 FROM "asset" a WHERE a.tag = i.tag) THEN ' (instrument)' ELSE '' END, '–', 'instrument', i.title,
  coalesce((SELECT a.place FROM "asset" a WHERE a.id = i.fitted_to), 'Instruments'), false, '{}', now() FROM "instrument" i;--> statement-breakpoint
ALTER TABLE "instrument" ADD CONSTRAINT "instrument_id_asset_id_fk" FOREIGN KEY ("id") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "standing_use_up" ON "standing" USING btree ("due","asset") WHERE usable_until > due;--> statement-breakpoint
ALTER TABLE "instrument" DROP COLUMN "tag";--> statement-breakpoint
ALTER TABLE "instrument" DROP COLUMN "title";--> statement-breakpoint
GRANT UPDATE ("archived_at") ON occasion, deferral, outside_certificate TO grellin_app;
