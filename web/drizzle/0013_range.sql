CREATE TABLE "frozen_levels" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"owner" text NOT NULL,
	"symbol" text NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"instant" timestamp with time zone NOT NULL,
	"price" double precision NOT NULL,
	"move" text NOT NULL,
	"levels" jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX "frozen_levels_owner_symbol_instant_index" ON "frozen_levels" USING btree ("owner","symbol","instant");