CREATE TABLE "demo" (
	"id" integer PRIMARY KEY NOT NULL,
	"version" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "listed_spreads" (
	"underlying_id" integer NOT NULL,
	"instant" timestamp with time zone NOT NULL,
	"position" integer NOT NULL,
	"kind" text NOT NULL,
	"legs" jsonb NOT NULL,
	"bid" double precision NOT NULL,
	"ask" double precision NOT NULL,
	"bid_size" double precision NOT NULL,
	"ask_size" double precision NOT NULL,
	CONSTRAINT "listed_spreads_underlying_id_instant_position_pk" PRIMARY KEY("underlying_id","instant","position")
);
--> statement-breakpoint
CREATE TABLE "trades" (
	"underlying_id" integer NOT NULL,
	"instant" timestamp with time zone NOT NULL,
	"legs" jsonb NOT NULL,
	"price" double precision NOT NULL,
	"size" double precision NOT NULL,
	"bid" double precision NOT NULL,
	"ask" double precision NOT NULL
);
--> statement-breakpoint
-- The next wave writes them again.
TRUNCATE "live_slices";--> statement-breakpoint
ALTER TABLE "live_slices" ADD COLUMN "call_bid_size" double precision[] NOT NULL;--> statement-breakpoint
ALTER TABLE "live_slices" ADD COLUMN "call_ask_size" double precision[] NOT NULL;--> statement-breakpoint
ALTER TABLE "live_slices" ADD COLUMN "put_bid_size" double precision[] NOT NULL;--> statement-breakpoint
ALTER TABLE "live_slices" ADD COLUMN "put_ask_size" double precision[] NOT NULL;--> statement-breakpoint
ALTER TABLE "slices" ADD COLUMN "call_bid_size" double precision[];--> statement-breakpoint
ALTER TABLE "slices" ADD COLUMN "call_ask_size" double precision[];--> statement-breakpoint
ALTER TABLE "slices" ADD COLUMN "put_bid_size" double precision[];--> statement-breakpoint
ALTER TABLE "slices" ADD COLUMN "put_ask_size" double precision[];--> statement-breakpoint
-- Sizes of what was stored before are not known.
UPDATE "slices" SET "call_bid_size" = array_fill('NaN'::float8, ARRAY[cardinality("strikes")]), "call_ask_size" = array_fill('NaN'::float8, ARRAY[cardinality("strikes")]), "put_bid_size" = array_fill('NaN'::float8, ARRAY[cardinality("strikes")]), "put_ask_size" = array_fill('NaN'::float8, ARRAY[cardinality("strikes")]);--> statement-breakpoint
ALTER TABLE "slices" ALTER COLUMN "call_bid_size" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "slices" ALTER COLUMN "call_ask_size" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "slices" ALTER COLUMN "put_bid_size" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "slices" ALTER COLUMN "put_ask_size" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "listed_spreads" ADD CONSTRAINT "listed_spreads_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trades" ADD CONSTRAINT "trades_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "trades_underlying_id_instant_index" ON "trades" USING btree ("underlying_id","instant");