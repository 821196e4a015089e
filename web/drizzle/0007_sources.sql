CREATE TABLE "former_symbols" (
	"symbol" text PRIMARY KEY NOT NULL,
	"underlying_id" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "processes" (
	"id" uuid PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"host" text NOT NULL,
	"pid" integer NOT NULL,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"beat_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
-- Rows from before are the demo's until its own keys are known: the next start tells the users' apart (is_claimed).
ALTER TABLE "demo" ADD COLUMN "is_claimed" boolean DEFAULT true NOT NULL;--> statement-breakpoint
UPDATE "demo" SET "is_claimed" = false;--> statement-breakpoint
ALTER TABLE "daily_bars" ADD COLUMN "source" text DEFAULT 'demo' NOT NULL;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "source" text DEFAULT 'demo' NOT NULL;--> statement-breakpoint
ALTER TABLE "dividends" ADD COLUMN "source" text DEFAULT 'demo' NOT NULL;--> statement-breakpoint
ALTER TABLE "events" ADD COLUMN "source" text DEFAULT 'demo' NOT NULL;--> statement-breakpoint
ALTER TABLE "futures_curves" ADD COLUMN "source" text DEFAULT 'demo' NOT NULL;--> statement-breakpoint
ALTER TABLE "listed_spreads" ADD COLUMN "source" text DEFAULT 'demo' NOT NULL;--> statement-breakpoint
ALTER TABLE "rate_curves" ADD COLUMN "source" text DEFAULT 'demo' NOT NULL;--> statement-breakpoint
ALTER TABLE "slices" ADD COLUMN "source" text DEFAULT 'demo' NOT NULL;--> statement-breakpoint
ALTER TABLE "trades" ADD COLUMN "source" text DEFAULT 'demo' NOT NULL;--> statement-breakpoint
-- Nothing of an underlying that was imported is the demo's.
UPDATE "daily_bars" SET "source" = 'user' WHERE "underlying_id" IN (SELECT "id" FROM "underlyings" WHERE "source" <> 'demo');--> statement-breakpoint
UPDATE "derived_measures" SET "source" = 'user' WHERE "underlying_id" IN (SELECT "id" FROM "underlyings" WHERE "source" <> 'demo');--> statement-breakpoint
UPDATE "dividends" SET "source" = 'user' WHERE "underlying_id" IN (SELECT "id" FROM "underlyings" WHERE "source" <> 'demo');--> statement-breakpoint
UPDATE "events" SET "source" = 'user' WHERE "underlying_id" IN (SELECT "id" FROM "underlyings" WHERE "source" <> 'demo');--> statement-breakpoint
UPDATE "futures_curves" SET "source" = 'user' WHERE "underlying_id" IN (SELECT "id" FROM "underlyings" WHERE "source" <> 'demo');--> statement-breakpoint
UPDATE "listed_spreads" SET "source" = 'user' WHERE "underlying_id" IN (SELECT "id" FROM "underlyings" WHERE "source" <> 'demo');--> statement-breakpoint
UPDATE "rate_curves" SET "source" = 'user' WHERE NOT EXISTS (SELECT 1 FROM "demo");--> statement-breakpoint
UPDATE "slices" SET "source" = 'user' WHERE "underlying_id" IN (SELECT "id" FROM "underlyings" WHERE "source" <> 'demo');--> statement-breakpoint
UPDATE "trades" SET "source" = 'user' WHERE "underlying_id" IN (SELECT "id" FROM "underlyings" WHERE "source" <> 'demo');--> statement-breakpoint
ALTER TABLE "daily_bars" ALTER COLUMN "source" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "derived_measures" ALTER COLUMN "source" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "dividends" ALTER COLUMN "source" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "events" ALTER COLUMN "source" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "futures_curves" ALTER COLUMN "source" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "listed_spreads" ALTER COLUMN "source" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "rate_curves" ALTER COLUMN "source" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "slices" ALTER COLUMN "source" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "trades" ALTER COLUMN "source" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "former_symbols" ADD CONSTRAINT "former_symbols_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;