CREATE TABLE "sign_in_delay" (
	"name" text NOT NULL,
	"address" text NOT NULL,
	"failures" integer NOT NULL,
	"next_at" timestamp with time zone NOT NULL,
	CONSTRAINT "sign_in_delay_name_address_pk" PRIMARY KEY("name","address")
);
--> statement-breakpoint
DROP TABLE "sign_in_failure";--> statement-breakpoint
ALTER TABLE "account" ADD COLUMN "must_change" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "account" ADD COLUMN "disabled_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "id" uuid DEFAULT gen_random_uuid() NOT NULL;--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "created_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "seen_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "address" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "session" ADD COLUMN "agent" text DEFAULT '' NOT NULL;--> statement-breakpoint
-- Granted twice at once by two officers: the newest stands, and the others stay in the record as withdrawn when it was granted.
UPDATE authorisation a SET withdrawn_at = later.at FROM (
	SELECT DISTINCT ON (account, procedure) account, procedure, id, at FROM authorisation WHERE withdrawn_at IS NULL ORDER BY account, procedure, at DESC, id DESC) AS later
	WHERE a.account = later.account AND a.procedure = later.procedure AND a.withdrawn_at IS NULL AND a.id <> later.id;
--> statement-breakpoint
CREATE UNIQUE INDEX "authorisation_in_force" ON "authorisation" USING btree ("account","procedure") WHERE withdrawn_at IS NULL;--> statement-breakpoint
ALTER TABLE "session" ADD CONSTRAINT "session_id_unique" UNIQUE("id");--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON sign_in_delay TO grellin_app;
