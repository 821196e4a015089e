CREATE TABLE "carry_terms" (
	"underlying_id" integer PRIMARY KEY NOT NULL,
	"from" timestamp with time zone NOT NULL,
	"financing" double precision NOT NULL,
	"borrow" double precision NOT NULL,
	"dividends" jsonb NOT NULL,
	"source" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "implied_financing" double precision;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "implied_borrow" double precision;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "implied_dividends" jsonb;--> statement-breakpoint
ALTER TABLE "carry_terms" ADD CONSTRAINT "carry_terms_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;