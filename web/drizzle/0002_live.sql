CREATE TABLE "feed" (
	"id" integer PRIMARY KEY NOT NULL,
	"is_running" boolean NOT NULL,
	"speed" double precision NOT NULL,
	"steps_wanted" integer NOT NULL,
	"store_minutes" integer NOT NULL,
	"sequence" integer NOT NULL,
	"instant" timestamp with time zone NOT NULL,
	"state" jsonb NOT NULL,
	"prices" jsonb NOT NULL,
	"stored_at" timestamp with time zone,
	"beat_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "feed_watches" (
	"symbol" text PRIMARY KEY NOT NULL,
	"seen_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "live_slices" (
	"underlying_id" integer NOT NULL,
	"instant" timestamp with time zone NOT NULL,
	"expiry" timestamp with time zone NOT NULL,
	"underlying_price" double precision NOT NULL,
	"strikes" double precision[] NOT NULL,
	"call_bid" double precision[] NOT NULL,
	"call_ask" double precision[] NOT NULL,
	"call_last" double precision[] NOT NULL,
	"call_volume" double precision[] NOT NULL,
	"call_open_interest" double precision[] NOT NULL,
	"put_bid" double precision[] NOT NULL,
	"put_ask" double precision[] NOT NULL,
	"put_last" double precision[] NOT NULL,
	"put_volume" double precision[] NOT NULL,
	"put_open_interest" double precision[] NOT NULL,
	CONSTRAINT "live_slices_underlying_id_expiry_pk" PRIMARY KEY("underlying_id","expiry")
);
--> statement-breakpoint
ALTER TABLE "live_slices" ADD CONSTRAINT "live_slices_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
-- Written again every second; a crash may lose it.
ALTER TABLE "live_slices" SET UNLOGGED;
