CREATE TABLE "paper" (
	"id" uuid PRIMARY KEY NOT NULL,
	"record" text NOT NULL,
	"kind" text NOT NULL,
	"head" text NOT NULL,
	"sha256" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	"issued_at" timestamp with time zone NOT NULL,
	"by" uuid NOT NULL
);
--> statement-breakpoint
CREATE TABLE "station" (
	"id" integer PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"zone" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "run_event" ADD COLUMN "version" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "paper" ADD CONSTRAINT "paper_record_record_number_fk" FOREIGN KEY ("record") REFERENCES "public"."record"("number") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "paper" ADD CONSTRAINT "paper_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "paper_of" ON "paper" USING btree ("record","kind","head");--> statement-breakpoint
ALTER TABLE "station" ADD CONSTRAINT "station_only_one" CHECK (id = 1);--> statement-breakpoint
-- Days were those of UTC so far; an officer sets the station's own zone.
INSERT INTO station (id, name, zone) VALUES (1, '', 'UTC');--> statement-breakpoint
GRANT SELECT, INSERT ON paper TO grellin_app;--> statement-breakpoint
GRANT SELECT, UPDATE ON station TO grellin_app;
