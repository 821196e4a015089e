CREATE TABLE "kept_structures" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"owner" text NOT NULL,
	"symbol" text NOT NULL,
	"name" text NOT NULL,
	"tags" text[] NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"as_of" text NOT NULL,
	"legs" jsonb NOT NULL,
	"held" double precision NOT NULL,
	"paid" jsonb NOT NULL,
	"cost" double precision,
	"price" double precision NOT NULL
);
--> statement-breakpoint
CREATE INDEX "kept_structures_owner_created_at_index" ON "kept_structures" USING btree ("owner","created_at");