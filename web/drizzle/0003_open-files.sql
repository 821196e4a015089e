-- The demo writes its events again, one for each underlying that they move.
TRUNCATE "events";--> statement-breakpoint
ALTER TABLE "events" ALTER COLUMN "underlying_id" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "table" text DEFAULT 'chains' NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "refusal" jsonb;--> statement-breakpoint
CREATE UNIQUE INDEX "events_underlying_id_instant_kind_label_index" ON "events" USING btree ("underlying_id","instant","kind","label");