CREATE TABLE "plan_bench" (
	"id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"setups" jsonb NOT NULL,
	"hours_a_week" double precision NOT NULL,
	"archived_at" timestamp with time zone,
	CONSTRAINT "plan_bench_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "planned" (
	"obligation" uuid PRIMARY KEY NOT NULL,
	"week" integer NOT NULL,
	"bench" uuid NOT NULL,
	"fixed" boolean NOT NULL,
	"by" uuid NOT NULL,
	"at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "planned" ADD CONSTRAINT "planned_obligation_obligation_id_fk" FOREIGN KEY ("obligation") REFERENCES "public"."obligation"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "planned" ADD CONSTRAINT "planned_bench_plan_bench_id_fk" FOREIGN KEY ("bench") REFERENCES "public"."plan_bench"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "planned" ADD CONSTRAINT "planned_by_account_id_fk" FOREIGN KEY ("by") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE ON plan_bench TO grellin_app;--> statement-breakpoint
GRANT SELECT, INSERT, UPDATE, DELETE ON planned TO grellin_app;
