CREATE TABLE "document" (
	"digest" text PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"id" text NOT NULL,
	"edition" text NOT NULL,
	"document" jsonb NOT NULL,
	"from_day" date NOT NULL,
	"until_day" date,
	"published_at" timestamp with time zone NOT NULL,
	"published_by" uuid NOT NULL,
	"withdrawn_at" timestamp with time zone,
	"withdrawn_by" uuid,
	"withdrawn_why" text,
	CONSTRAINT "document_kind_id_edition_unique" UNIQUE("kind","id","edition")
);
--> statement-breakpoint
CREATE TABLE "rig_doubted" (
	"run" uuid PRIMARY KEY NOT NULL,
	"asset" uuid NOT NULL,
	"procedure" text NOT NULL,
	"because" uuid NOT NULL,
	"words" text NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "round" (
	"id" uuid PRIMARY KEY NOT NULL,
	"procedure" text NOT NULL,
	"rule_set" text NOT NULL,
	"instruments" jsonb NOT NULL,
	"rig" uuid,
	"opened_by" uuid NOT NULL,
	"opened_at" timestamp with time zone NOT NULL,
	"closed_at" timestamp with time zone,
	"closed_by" uuid
);
--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "round" uuid;--> statement-breakpoint
ALTER TABLE "document" ADD CONSTRAINT "document_published_by_account_id_fk" FOREIGN KEY ("published_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "document" ADD CONSTRAINT "document_withdrawn_by_account_id_fk" FOREIGN KEY ("withdrawn_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rig_doubted" ADD CONSTRAINT "rig_doubted_run_run_id_fk" FOREIGN KEY ("run") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rig_doubted" ADD CONSTRAINT "rig_doubted_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rig_doubted" ADD CONSTRAINT "rig_doubted_because_run_id_fk" FOREIGN KEY ("because") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round" ADD CONSTRAINT "round_rig_instrument_id_fk" FOREIGN KEY ("rig") REFERENCES "public"."instrument"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round" ADD CONSTRAINT "round_opened_by_account_id_fk" FOREIGN KEY ("opened_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "round" ADD CONSTRAINT "round_closed_by_account_id_fk" FOREIGN KEY ("closed_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "rig_doubted_by_asset" ON "rig_doubted" USING btree ("asset");--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_round_round_id_fk" FOREIGN KEY ("round") REFERENCES "public"."round"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "run_of_round" ON "run" USING btree ("round") WHERE round IS NOT NULL;--> statement-breakpoint
CREATE INDEX "round_open" ON "round" USING btree ("opened_at") WHERE closed_at IS NULL;--> statement-breakpoint
-- What was published is not changed: it is withdrawn, with a reason.
GRANT SELECT, INSERT ON document TO grellin_app;--> statement-breakpoint
GRANT UPDATE (withdrawn_at, withdrawn_by, withdrawn_why) ON document TO grellin_app;--> statement-breakpoint
GRANT SELECT, INSERT ON round TO grellin_app;--> statement-breakpoint
GRANT UPDATE (closed_at, closed_by) ON round TO grellin_app;--> statement-breakpoint
GRANT SELECT, INSERT ON rig_doubted TO grellin_app;
