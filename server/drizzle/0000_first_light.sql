CREATE TABLE "account" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"full_name" text NOT NULL,
	"role" text NOT NULL,
	"password_hash" text NOT NULL,
	"demo" boolean NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	CONSTRAINT "account_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "session" (
	"token_hash" text PRIMARY KEY NOT NULL,
	"account" uuid NOT NULL,
	"expires_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sign_in_failure" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"address" text NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "asset" (
	"id" uuid PRIMARY KEY NOT NULL,
	"tag" text NOT NULL,
	"serial" text NOT NULL,
	"class" text NOT NULL,
	"title" text NOT NULL,
	"place" text NOT NULL,
	"practice" boolean NOT NULL,
	"attributes" jsonb NOT NULL,
	"created_at" timestamp with time zone NOT NULL,
	CONSTRAINT "asset_tag_unique" UNIQUE("tag")
);
--> statement-breakpoint
CREATE TABLE "instrument" (
	"id" uuid PRIMARY KEY NOT NULL,
	"tag" text NOT NULL,
	"title" text NOT NULL,
	"fitted_to" uuid,
	"low" jsonb NOT NULL,
	"high" jsonb NOT NULL,
	"resolution" jsonb NOT NULL,
	"accuracy" jsonb NOT NULL,
	"correlation" double precision NOT NULL,
	"calibration_due" date,
	"address" text,
	"simulated" boolean NOT NULL,
	"rig" text,
	CONSTRAINT "instrument_tag_unique" UNIQUE("tag")
);
--> statement-breakpoint
CREATE TABLE "procedure" (
	"digest" text PRIMARY KEY NOT NULL,
	"id" text NOT NULL,
	"edition" text NOT NULL,
	"document" jsonb NOT NULL,
	"published_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "record" (
	"number" text PRIMARY KEY NOT NULL,
	"run" uuid NOT NULL,
	"procedure" text NOT NULL,
	"asset" uuid NOT NULL,
	"verdict" text NOT NULL,
	"word" text NOT NULL,
	"blocks" boolean NOT NULL,
	"counts" boolean NOT NULL,
	"simulated" boolean NOT NULL,
	"allowance_percent" integer,
	"summary" text NOT NULL,
	"result" jsonb NOT NULL,
	"head" text NOT NULL,
	"sealed_at" timestamp with time zone NOT NULL,
	"by" uuid NOT NULL,
	"next_due" date,
	CONSTRAINT "record_run_unique" UNIQUE("run")
);
--> statement-breakpoint
CREATE TABLE "run" (
	"id" uuid PRIMARY KEY NOT NULL,
	"procedure" text NOT NULL,
	"digest" text NOT NULL,
	"rule_set" text NOT NULL,
	"asset" uuid NOT NULL,
	"obligation" uuid,
	"retest_of" uuid,
	"opened_by" uuid NOT NULL,
	"started_at" timestamp with time zone NOT NULL,
	"clock" text NOT NULL,
	"lease" integer NOT NULL,
	"lease_by" uuid NOT NULL,
	"seq" integer NOT NULL,
	"head" text NOT NULL,
	"closed" boolean NOT NULL,
	"blocks" boolean NOT NULL
);
--> statement-breakpoint
CREATE TABLE "run_asset" (
	"run" uuid NOT NULL,
	"role" text NOT NULL,
	"asset" uuid NOT NULL,
	CONSTRAINT "run_asset_run_role_pk" PRIMARY KEY("run","role")
);
--> statement-breakpoint
CREATE TABLE "run_event" (
	"run" uuid NOT NULL,
	"seq" integer NOT NULL,
	"event_id" text NOT NULL,
	"lease" integer NOT NULL,
	"late" boolean NOT NULL,
	"by" uuid NOT NULL,
	"stored_at" timestamp with time zone NOT NULL,
	"previous" text NOT NULL,
	"hash" text NOT NULL,
	"event" jsonb NOT NULL,
	CONSTRAINT "run_event_run_seq_pk" PRIMARY KEY("run","seq"),
	CONSTRAINT "run_event_once" UNIQUE("run","event_id")
) PARTITION BY RANGE ("run");
--> statement-breakpoint
CREATE TABLE "run_instrument" (
	"run" uuid NOT NULL,
	"channel" text NOT NULL,
	"instrument" uuid NOT NULL,
	"zero_ms" bigint,
	CONSTRAINT "run_instrument_run_channel_pk" PRIMARY KEY("run","channel")
);
--> statement-breakpoint
CREATE TABLE "obligation" (
	"id" uuid PRIMARY KEY NOT NULL,
	"asset" uuid NOT NULL,
	"procedure" text NOT NULL,
	"rule_set" text NOT NULL,
	"interval" text NOT NULL,
	"counting" text NOT NULL,
	"anchor" date NOT NULL,
	"due" date NOT NULL,
	"last_done" date,
	CONSTRAINT "obligation_once" UNIQUE("asset","procedure")
);
--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_account_account_id_fk" FOREIGN KEY ("account") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "instrument" ADD CONSTRAINT "instrument_fitted_to_asset_id_fk" FOREIGN KEY ("fitted_to") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "record" ADD CONSTRAINT "record_run_run_id_fk" FOREIGN KEY ("run") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "record" ADD CONSTRAINT "record_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "record" ADD CONSTRAINT "record_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_digest_procedure_digest_fk" FOREIGN KEY ("digest") REFERENCES "public"."procedure"("digest") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_obligation_obligation_id_fk" FOREIGN KEY ("obligation") REFERENCES "public"."obligation"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_opened_by_account_id_fk" FOREIGN KEY ("opened_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_lease_by_account_id_fk" FOREIGN KEY ("lease_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run_asset" ADD CONSTRAINT "run_asset_run_run_id_fk" FOREIGN KEY ("run") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run_asset" ADD CONSTRAINT "run_asset_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run_instrument" ADD CONSTRAINT "run_instrument_run_run_id_fk" FOREIGN KEY ("run") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run_instrument" ADD CONSTRAINT "run_instrument_instrument_instrument_id_fk" FOREIGN KEY ("instrument") REFERENCES "public"."instrument"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "obligation" ADD CONSTRAINT "obligation_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
-- Run ids are UUIDv7, whose first 48 bits are milliseconds since 1970: one partition a year, and one for whatever lies outside.
DO $$
DECLARE
	year int;
	low text;
	high text;
BEGIN
	FOR year IN 2020..2045 LOOP
		low := lpad(to_hex((extract(epoch FROM make_timestamptz(year, 1, 1, 0, 0, 0, 'UTC')) * 1000)::bigint), 12, '0');
		high := lpad(to_hex((extract(epoch FROM make_timestamptz(year + 1, 1, 1, 0, 0, 0, 'UTC')) * 1000)::bigint), 12, '0');
		EXECUTE format('CREATE TABLE %I PARTITION OF run_event FOR VALUES FROM (%L) TO (%L)', 'run_event_' || year,
			left(low, 8) || '-' || right(low, 4) || '-0000-0000-000000000000', left(high, 8) || '-' || right(high, 4) || '-0000-0000-000000000000');
	END LOOP;
	CREATE TABLE run_event_other PARTITION OF run_event DEFAULT;
END $$;
--> statement-breakpoint
CREATE INDEX run_open ON run (started_at) WHERE NOT closed;
--> statement-breakpoint
CREATE INDEX run_asset_of ON run_asset (asset);
--> statement-breakpoint
CREATE INDEX record_sealed ON record (sealed_at DESC);
--> statement-breakpoint
CREATE INDEX obligation_due ON obligation (due);
--> statement-breakpoint
CREATE INDEX sign_in_failure_recent ON sign_in_failure (name, at);
--> statement-breakpoint
CREATE SEQUENCE record_number;
--> statement-breakpoint
-- The application's role. It owns nothing; it may only add to the events, the records and the published procedures.
DO $$
BEGIN
	IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'grellin_app') THEN
		CREATE ROLE grellin_app NOLOGIN;
	END IF;
	EXECUTE format('GRANT grellin_app TO %I', current_user);
END $$;
--> statement-breakpoint
GRANT USAGE ON SCHEMA public TO grellin_app;
--> statement-breakpoint
GRANT SELECT, INSERT ON run_event, record, procedure TO grellin_app;
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON account, asset, instrument, obligation, run, run_asset, run_instrument TO grellin_app;
--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON session, sign_in_failure TO grellin_app;
--> statement-breakpoint
GRANT USAGE ON SEQUENCE record_number, sign_in_failure_id_seq TO grellin_app;
