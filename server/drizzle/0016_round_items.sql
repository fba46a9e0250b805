CREATE TABLE "round_item" (
	"round" uuid NOT NULL,
	"asset" uuid NOT NULL,
	"place" integer NOT NULL,
	"added_by" uuid NOT NULL,
	"taken_by" uuid,
	"taken_at" timestamp with time zone,
	CONSTRAINT "round_item_round_asset_pk" PRIMARY KEY("round","asset")
);
--> statement-breakpoint
ALTER TABLE "round_item" ADD CONSTRAINT "round_item_round_round_id_fk" FOREIGN KEY ("round") REFERENCES "public"."round"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round_item" ADD CONSTRAINT "round_item_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round_item" ADD CONSTRAINT "round_item_added_by_account_id_fk" FOREIGN KEY ("added_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round_item" ADD CONSTRAINT "round_item_taken_by_account_id_fk" FOREIGN KEY ("taken_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "round_item_of_asset" ON "round_item" USING btree ("asset");--> statement-breakpoint
-- Rounds of before have what was tested in them for their list.
INSERT INTO round_item (round, asset, place, added_by, taken_by, taken_at)
SELECT round, asset, row_number() OVER (PARTITION BY round ORDER BY min(opened_order)), (array_agg(opened_by ORDER BY opened_order))[1],
  (array_agg(opened_by ORDER BY opened_order DESC))[1], max(started_at)
FROM run WHERE round IS NOT NULL GROUP BY round, asset;
--> statement-breakpoint
GRANT SELECT, INSERT, DELETE ON round_item TO grellin_app;--> statement-breakpoint
GRANT UPDATE (taken_by, taken_at) ON round_item TO grellin_app;
