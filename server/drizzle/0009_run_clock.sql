ALTER TABLE "run" ADD COLUMN "clock_ms" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "clock_seen" jsonb;