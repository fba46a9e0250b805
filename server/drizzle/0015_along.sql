CREATE TABLE "along" (
	"id" uuid PRIMARY KEY NOT NULL,
	"account" uuid NOT NULL,
	"device" text NOT NULL,
	"secret_hash" text NOT NULL,
	"taken_at" timestamp with time zone NOT NULL,
	"until" timestamp with time zone NOT NULL,
	"opened_order" bigint DEFAULT nextval('station_order') NOT NULL,
	"clock_seen" jsonb NOT NULL,
	"spent_ms" bigint DEFAULT 0 NOT NULL,
	"bundle" jsonb NOT NULL,
	"ended_at" timestamp with time zone,
	"ended_by" uuid
);
--> statement-breakpoint
CREATE TABLE "along_asset" (
	"along" uuid NOT NULL,
	"asset" uuid NOT NULL,
	CONSTRAINT "along_asset_along_asset_pk" PRIMARY KEY("along","asset")
);
--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "along" uuid;--> statement-breakpoint
ALTER TABLE "along" ADD CONSTRAINT "along_account_account_id_fk" FOREIGN KEY ("account") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "along" ADD CONSTRAINT "along_ended_by_account_id_fk" FOREIGN KEY ("ended_by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "along_asset" ADD CONSTRAINT "along_asset_along_along_id_fk" FOREIGN KEY ("along") REFERENCES "public"."along"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "along_asset" ADD CONSTRAINT "along_asset_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "along_of_asset" ON "along_asset" USING btree ("asset");--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_along_along_id_fk" FOREIGN KEY ("along") REFERENCES "public"."along"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "run_of_along" ON "run" USING btree ("along") WHERE along IS NOT NULL;--> statement-breakpoint
-- What was taken along is not changed: time is spent of it, its end comes sooner, and it is ended.
GRANT SELECT, INSERT ON along TO grellin_app;--> statement-breakpoint
GRANT UPDATE (until, spent_ms, ended_at, ended_by) ON along TO grellin_app;--> statement-breakpoint
GRANT SELECT, INSERT ON along_asset TO grellin_app;
