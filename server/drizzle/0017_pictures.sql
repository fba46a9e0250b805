CREATE TABLE "picture" (
	"sha256" text PRIMARY KEY NOT NULL,
	"bytes" "bytea" NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "run_picture" (
	"run" uuid NOT NULL,
	"picture" text NOT NULL,
	CONSTRAINT "run_picture_run_picture_pk" PRIMARY KEY("run","picture")
);
--> statement-breakpoint
ALTER TABLE "picture" ADD CONSTRAINT "picture_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run_picture" ADD CONSTRAINT "run_picture_run_run_id_fk" FOREIGN KEY ("run") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run_picture" ADD CONSTRAINT "run_picture_picture_picture_sha256_fk" FOREIGN KEY ("picture") REFERENCES "public"."picture"("sha256") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "picture_of_person" ON "picture" USING btree ("by","at");--> statement-breakpoint
CREATE INDEX "run_of_picture" ON "run_picture" USING btree ("picture");--> statement-breakpoint
-- What was seen stays as it was seen.
GRANT SELECT, INSERT ON picture TO grellin_app;--> statement-breakpoint
GRANT SELECT, INSERT ON run_picture TO grellin_app;
