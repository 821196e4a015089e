CREATE TABLE "dividends" (
	"underlying_id" integer NOT NULL,
	"ex_date" date NOT NULL,
	"instant" timestamp with time zone NOT NULL,
	"amount" double precision NOT NULL,
	CONSTRAINT "dividends_underlying_id_ex_date_pk" PRIMARY KEY("underlying_id","ex_date")
);
--> statement-breakpoint
CREATE TABLE "futures_curves" (
	"underlying_id" integer NOT NULL,
	"instant" timestamp with time zone NOT NULL,
	"deliveries" date[] NOT NULL,
	"prices" double precision[] NOT NULL,
	CONSTRAINT "futures_curves_underlying_id_instant_pk" PRIMARY KEY("underlying_id","instant")
);
--> statement-breakpoint
CREATE TABLE "jobs" (
	"id" uuid PRIMARY KEY NOT NULL,
	"owner" text NOT NULL,
	"group" text NOT NULL,
	"label" text NOT NULL,
	"payload" jsonb NOT NULL,
	"state" text NOT NULL,
	"share" double precision DEFAULT 0 NOT NULL,
	"weight" double precision DEFAULT 1 NOT NULL,
	"attempts" integer DEFAULT 0 NOT NULL,
	"worker" text,
	"beat_at" timestamp with time zone,
	"is_cancel_wanted" boolean DEFAULT false NOT NULL,
	"error" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"started_at" timestamp with time zone,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "contract_terms" ADD COLUMN "foreign_currency" text;--> statement-breakpoint
-- Measures are made from the stored quotes; a job makes them again.
TRUNCATE "derived_measures";--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "butterfly25" double precision;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "realized_by_window" double precision[] NOT NULL;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "option_volume" double precision NOT NULL;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "open_interest" double precision NOT NULL;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "quotes" integer NOT NULL;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "rejected" jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "dividends" ADD CONSTRAINT "dividends_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "futures_curves" ADD CONSTRAINT "futures_curves_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "jobs_group_state_index" ON "jobs" USING btree ("group","state");--> statement-breakpoint
CREATE INDEX "jobs_state_beat_at_index" ON "jobs" USING btree ("state","beat_at");
--> statement-breakpoint
-- Slices by month of their instant: a month is loaded, dropped or kept elsewhere as one table.
ALTER TABLE "slices" RENAME TO "slices_before_partitions";--> statement-breakpoint
ALTER TABLE "slices_before_partitions" RENAME CONSTRAINT "slices_underlying_id_instant_expiry_pk" TO "slices_before_partitions_pk";--> statement-breakpoint
ALTER TABLE "slices_before_partitions" DROP CONSTRAINT "slices_underlying_id_underlyings_id_fk";--> statement-breakpoint
CREATE TABLE "slices" (
	LIKE "slices_before_partitions" INCLUDING DEFAULTS,
	CONSTRAINT "slices_underlying_id_instant_expiry_pk" PRIMARY KEY("underlying_id","instant","expiry"),
	CONSTRAINT "slices_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade
) PARTITION BY RANGE ("instant");--> statement-breakpoint
-- Makes the partition of an instant's month. A table of its own is attached, which blocks neither readers nor loaders.
CREATE FUNCTION ensure_slices_partition(at timestamptz) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
	low timestamptz := date_trunc('month', at AT TIME ZONE 'UTC') AT TIME ZONE 'UTC';
	high timestamptz := (date_trunc('month', at AT TIME ZONE 'UTC') + interval '1 month') AT TIME ZONE 'UTC';
	name text := 'slices_' || to_char(at AT TIME ZONE 'UTC', 'YYYY_MM');
BEGIN
	IF to_regclass(name) IS NOT NULL THEN RETURN; END IF;
	PERFORM pg_advisory_xact_lock(hashtext('slices partitions'));
	IF to_regclass(name) IS NOT NULL THEN RETURN; END IF;
	EXECUTE format('CREATE TABLE %I (LIKE slices INCLUDING DEFAULTS, CHECK (instant >= %L AND instant < %L))', name, low, high);
	EXECUTE format('ALTER TABLE slices ATTACH PARTITION %I FOR VALUES FROM (%L) TO (%L)', name, low, high);
END $$;--> statement-breakpoint
SELECT ensure_slices_partition(m) FROM (SELECT DISTINCT date_trunc('month', instant AT TIME ZONE 'UTC') AT TIME ZONE 'UTC' AS m FROM "slices_before_partitions") AS months;--> statement-breakpoint
INSERT INTO "slices" SELECT * FROM "slices_before_partitions";--> statement-breakpoint
DROP TABLE "slices_before_partitions";
