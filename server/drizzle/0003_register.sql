-- Parts of words are found by their trigrams; the extension is trusted, so that the owner of the database may make it.
CREATE EXTENSION IF NOT EXISTS pg_trgm;--> statement-breakpoint
CREATE TABLE "authorisation" (
	"id" uuid PRIMARY KEY NOT NULL,
	"account" uuid NOT NULL,
	"procedure" text NOT NULL,
	"until" date NOT NULL,
	"stamp" text NOT NULL,
	"granted_by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"withdrawn_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "calendar_feed" (
	"account" uuid PRIMARY KEY NOT NULL,
	"secret_hash" text NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	CONSTRAINT "calendar_feed_secret_hash_unique" UNIQUE("secret_hash")
);
--> statement-breakpoint
CREATE TABLE "kit" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"archived_at" timestamp with time zone,
	CONSTRAINT "kit_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "kit_asset" (
	"kit" uuid NOT NULL,
	"asset" uuid NOT NULL,
	CONSTRAINT "kit_asset_kit_asset_pk" PRIMARY KEY("kit","asset")
);
--> statement-breakpoint
CREATE TABLE "kit_need" (
	"kit" uuid NOT NULL,
	"class" text NOT NULL,
	"minimum" integer NOT NULL,
	CONSTRAINT "kit_need_kit_class_pk" PRIMARY KEY("kit","class")
);
--> statement-breakpoint
CREATE TABLE "occasion" (
	"id" uuid PRIMARY KEY NOT NULL,
	"asset" uuid NOT NULL,
	"kind" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"note" text NOT NULL,
	"by" uuid NOT NULL
);
--> statement-breakpoint
CREATE TABLE "saved_view" (
	"id" uuid PRIMARY KEY NOT NULL,
	"account" uuid NOT NULL,
	"name" text NOT NULL,
	"query" jsonb NOT NULL,
	"columns" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "change" (
	"id" uuid PRIMARY KEY NOT NULL,
	"what" text NOT NULL,
	"rows" jsonb NOT NULL,
	"by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"undone_at" timestamp with time zone,
	"undone_by" uuid
);
--> statement-breakpoint
CREATE TABLE "calibration" (
	"id" uuid PRIMARY KEY NOT NULL,
	"instrument" uuid NOT NULL,
	"on" date NOT NULL,
	"due" date NOT NULL,
	"laboratory" text NOT NULL,
	"certificate" text NOT NULL,
	"points" jsonb NOT NULL,
	"out_of_tolerance" boolean NOT NULL,
	"by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "recalled" (
	"calibration" uuid NOT NULL,
	"run" uuid NOT NULL,
	"asset" uuid NOT NULL,
	"procedure" text NOT NULL,
	"before" text NOT NULL,
	"after" text NOT NULL,
	"changes" boolean NOT NULL,
	"words" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	CONSTRAINT "recalled_calibration_run_pk" PRIMARY KEY("calibration","run")
);
--> statement-breakpoint
CREATE TABLE "zero_check" (
	"id" uuid PRIMARY KEY NOT NULL,
	"instrument" uuid NOT NULL,
	"shows" jsonb NOT NULL,
	"note" text NOT NULL,
	"by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "deferral" (
	"id" uuid PRIMARY KEY NOT NULL,
	"obligation" uuid NOT NULL,
	"kind" text NOT NULL,
	"before" date NOT NULL,
	"after" date NOT NULL,
	"reason" text NOT NULL,
	"by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "outside_certificate" (
	"id" uuid PRIMARY KEY NOT NULL,
	"obligation" uuid NOT NULL,
	"done_on" date NOT NULL,
	"issuer" text NOT NULL,
	"number" text NOT NULL,
	"mime" text NOT NULL,
	"scan" "bytea" NOT NULL,
	"next_due" date,
	"by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "standing" (
	"asset" uuid PRIMARY KEY NOT NULL,
	"blocked_by" text,
	"life_ends" date,
	"due" date NOT NULL,
	"due_procedure" text,
	"owed_now" text,
	"owes" boolean NOT NULL,
	"last_record" text,
	"last_verdict" text,
	"last_word" text,
	"last_on" date,
	"used" integer NOT NULL,
	"archived" boolean NOT NULL
);
--> statement-breakpoint
ALTER TABLE "obligation" ALTER COLUMN "interval" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "obligation" ALTER COLUMN "due" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "asset" ADD COLUMN "made_on" text;--> statement-breakpoint
ALTER TABLE "asset" ADD COLUMN "life" text;--> statement-breakpoint
ALTER TABLE "asset" ADD COLUMN "life_ends" date;--> statement-breakpoint
ALTER TABLE "asset" ADD COLUMN "archived_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "asset" ADD COLUMN "revision" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "asset" ADD COLUMN "search" text GENERATED ALWAYS AS (lower(tag || ' ' || serial || ' ' || title || ' ' || place)) STORED;--> statement-breakpoint
ALTER TABLE "record" ADD COLUMN "strip" jsonb;--> statement-breakpoint
ALTER TABLE "obligation" ADD COLUMN "early" text;--> statement-breakpoint
ALTER TABLE "obligation" ADD COLUMN "stamp" text DEFAULT 'day' NOT NULL;--> statement-breakpoint
ALTER TABLE "obligation" ADD COLUMN "triggers" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "obligation" ADD COLUMN "filled" text;--> statement-breakpoint
ALTER TABLE "obligation" ADD COLUMN "hard" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "obligation" ADD COLUMN "last_done_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "obligation" ADD COLUMN "archived_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "authorisation" ADD CONSTRAINT "authorisation_account_account_id_fk" FOREIGN KEY ("account") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "authorisation" ADD CONSTRAINT "authorisation_granted_by_account_id_fk" FOREIGN KEY ("granted_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "calendar_feed" ADD CONSTRAINT "calendar_feed_account_account_id_fk" FOREIGN KEY ("account") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kit_asset" ADD CONSTRAINT "kit_asset_kit_kit_id_fk" FOREIGN KEY ("kit") REFERENCES "public"."kit"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kit_asset" ADD CONSTRAINT "kit_asset_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kit_need" ADD CONSTRAINT "kit_need_kit_kit_id_fk" FOREIGN KEY ("kit") REFERENCES "public"."kit"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "occasion" ADD CONSTRAINT "occasion_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "occasion" ADD CONSTRAINT "occasion_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "saved_view" ADD CONSTRAINT "saved_view_account_account_id_fk" FOREIGN KEY ("account") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change" ADD CONSTRAINT "change_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "change" ADD CONSTRAINT "change_undone_by_account_id_fk" FOREIGN KEY ("undone_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "calibration" ADD CONSTRAINT "calibration_instrument_instrument_id_fk" FOREIGN KEY ("instrument") REFERENCES "public"."instrument"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "calibration" ADD CONSTRAINT "calibration_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recalled" ADD CONSTRAINT "recalled_calibration_calibration_id_fk" FOREIGN KEY ("calibration") REFERENCES "public"."calibration"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recalled" ADD CONSTRAINT "recalled_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "zero_check" ADD CONSTRAINT "zero_check_instrument_instrument_id_fk" FOREIGN KEY ("instrument") REFERENCES "public"."instrument"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "zero_check" ADD CONSTRAINT "zero_check_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deferral" ADD CONSTRAINT "deferral_obligation_obligation_id_fk" FOREIGN KEY ("obligation") REFERENCES "public"."obligation"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deferral" ADD CONSTRAINT "deferral_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "outside_certificate" ADD CONSTRAINT "outside_certificate_obligation_obligation_id_fk" FOREIGN KEY ("obligation") REFERENCES "public"."obligation"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "outside_certificate" ADD CONSTRAINT "outside_certificate_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "standing" ADD CONSTRAINT "standing_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "authorisation_of" ON "authorisation" USING btree ("account","procedure");--> statement-breakpoint
CREATE INDEX "kit_asset_by_asset" ON "kit_asset" USING btree ("asset");--> statement-breakpoint
CREATE INDEX "occasion_newest" ON "occasion" USING btree ("asset","kind","at");--> statement-breakpoint
CREATE INDEX "change_newest" ON "change" USING btree ("at");--> statement-breakpoint
CREATE INDEX "calibration_newest" ON "calibration" USING btree ("instrument","on");--> statement-breakpoint
CREATE INDEX "recalled_by_asset" ON "recalled" USING btree ("asset");--> statement-breakpoint
CREATE INDEX "zero_check_newest" ON "zero_check" USING btree ("instrument","at");--> statement-breakpoint
CREATE INDEX "standing_by_due" ON "standing" USING btree ("due","asset");--> statement-breakpoint
CREATE INDEX "standing_by_used" ON "standing" USING btree ("used","asset");--> statement-breakpoint
CREATE INDEX "standing_blocked" ON "standing" USING btree ("asset") WHERE blocked_by IS NOT NULL;--> statement-breakpoint
CREATE INDEX "standing_life" ON "standing" USING btree ("life_ends") WHERE life_ends IS NOT NULL;--> statement-breakpoint
CREATE INDEX "standing_owed" ON "standing" USING btree ("asset") WHERE owed_now IS NOT NULL;--> statement-breakpoint
CREATE INDEX "asset_by_class" ON "asset" USING btree ("class","tag");--> statement-breakpoint
CREATE INDEX "asset_by_place" ON "asset" USING btree ("place","tag");--> statement-breakpoint
CREATE INDEX "asset_by_title" ON "asset" USING btree ("title","tag");--> statement-breakpoint
CREATE INDEX "asset_by_serial" ON "asset" USING btree ("serial","tag");--> statement-breakpoint
CREATE INDEX "asset_search" ON "asset" USING gin ("search" gin_trgm_ops);--> statement-breakpoint
CREATE INDEX "obligation_by_due" ON "obligation" USING btree ("due","id");--> statement-breakpoint
GRANT SELECT, INSERT ON occasion, deferral, outside_certificate, calibration, zero_check, recalled TO grellin_app;--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON kit, change, authorisation, standing TO grellin_app;--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON kit_need, kit_asset, saved_view, calendar_feed TO grellin_app;
