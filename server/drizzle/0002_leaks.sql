CREATE TABLE "leak" (
	"id" uuid PRIMARY KEY NOT NULL,
	"asset" uuid NOT NULL,
	"run" uuid NOT NULL,
	"number" integer NOT NULL,
	"outline" text,
	"x" double precision,
	"y" double precision,
	"place" text NOT NULL,
	"grade" text NOT NULL,
	"found_at" timestamp with time zone NOT NULL,
	"by" uuid NOT NULL,
	"closed_by" uuid,
	"closed_at" timestamp with time zone,
	CONSTRAINT "leak_asset_number_unique" UNIQUE("asset","number")
);
--> statement-breakpoint
ALTER TABLE "leak" ADD CONSTRAINT "leak_asset_asset_id_fk" FOREIGN KEY ("asset") REFERENCES "public"."asset"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "leak" ADD CONSTRAINT "leak_run_run_id_fk" FOREIGN KEY ("run") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "leak" ADD CONSTRAINT "leak_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "leak" ADD CONSTRAINT "leak_closed_by_run_id_fk" FOREIGN KEY ("closed_by") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON leak TO grellin_app;
