-- One order of openings and sealings for the whole station: no clock decides which came first.
CREATE SEQUENCE station_order;
--> statement-breakpoint
CREATE TABLE "device_hold" (
	"device" text PRIMARY KEY NOT NULL,
	"run" uuid NOT NULL
);
--> statement-breakpoint
CREATE TABLE "run_lease" (
	"run" uuid NOT NULL,
	"lease" integer NOT NULL,
	"account" uuid NOT NULL,
	"device" text NOT NULL,
	"secret_hash" text,
	"given_at" timestamp with time zone NOT NULL,
	CONSTRAINT "run_lease_run_lease_pk" PRIMARY KEY("run","lease")
);
--> statement-breakpoint
ALTER TABLE "record" ADD COLUMN "sealed_order" bigint;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "opened_order" bigint;--> statement-breakpoint
ALTER TABLE "device_hold" ADD CONSTRAINT "device_hold_run_run_id_fk" FOREIGN KEY ("run") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run_lease" ADD CONSTRAINT "run_lease_run_run_id_fk" FOREIGN KEY ("run") REFERENCES "public"."run"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run_lease" ADD CONSTRAINT "run_lease_account_account_id_fk" FOREIGN KEY ("account") REFERENCES "public"."account"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
-- What lies behind is put in the order of the clocks, the only one there is. Of one moment, the opening counts as the earlier: it releases nothing sealed then.
CREATE TEMPORARY TABLE moment AS
	SELECT id, kind, row_number() OVER (ORDER BY at, kind, id) AS n FROM (
		SELECT id, 'opened' AS kind, started_at AS at FROM run UNION ALL SELECT run, 'sealed', sealed_at FROM record) AS both_kinds;
--> statement-breakpoint
UPDATE run SET opened_order = n FROM moment WHERE moment.id = run.id AND kind = 'opened';--> statement-breakpoint
UPDATE record SET sealed_order = n FROM moment WHERE moment.id = record.run AND kind = 'sealed';--> statement-breakpoint
SELECT setval('station_order', (SELECT count(*) + 1 FROM moment));--> statement-breakpoint
DROP TABLE moment;--> statement-breakpoint
ALTER TABLE "record" ALTER COLUMN "sealed_order" SET DEFAULT nextval('station_order'), ALTER COLUMN "sealed_order" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ALTER COLUMN "opened_order" SET DEFAULT nextval('station_order'), ALTER COLUMN "opened_order" SET NOT NULL;--> statement-breakpoint
-- Leases from before they had a secret: whoever had one goes on after taking the run over; what still comes under it is kept as late.
INSERT INTO run_lease (run, lease, account, device, given_at)
	SELECT run.id, l.lease, CASE WHEN l.lease = run.lease THEN run.lease_by ELSE run.opened_by END, '', run.started_at
	FROM run, generate_series(1, run.lease) AS l(lease) WHERE NOT run.closed;
--> statement-breakpoint
-- A device that two open runs claim stays with the one that was opened first; the other's channels are read no longer, and it has to be abandoned.
INSERT INTO device_hold (device, run)
	SELECT DISTINCT ON (device) device, id FROM (
		SELECT split_part(i.address, '/', 1) || '/' || split_part(i.address, '/', 2) AS device, run.id, run.opened_order FROM run
			JOIN run_instrument ri ON ri.run = run.id JOIN instrument i ON i.id = ri.instrument WHERE NOT run.closed AND i.address IS NOT NULL AND ri.zero_ms IS NOT NULL
		UNION ALL
		SELECT split_part(i.address, '/', 1) || '/' || split_part(i.address, '/', 2), run.id, run.opened_order FROM run
			JOIN instrument i ON i.id = run.rig WHERE NOT run.closed AND i.address IS NOT NULL) AS claim
	ORDER BY device, opened_order;
--> statement-breakpoint
UPDATE run_instrument ri SET zero_ms = NULL FROM run, instrument i, device_hold h
	WHERE run.id = ri.run AND i.id = ri.instrument AND NOT run.closed AND i.address LIKE h.device || '/%' AND h.run <> run.id;
--> statement-breakpoint
UPDATE run SET rig = NULL FROM instrument i, device_hold h WHERE i.id = run.rig AND NOT run.closed AND i.address LIKE h.device || '/%' AND h.run <> run.id;
--> statement-breakpoint
GRANT SELECT, INSERT ON run_lease TO grellin_app;
--> statement-breakpoint
GRANT SELECT, INSERT, DELETE ON device_hold TO grellin_app;
--> statement-breakpoint
GRANT USAGE ON SEQUENCE station_order TO grellin_app;
