CREATE TABLE "contract_terms" (
	"underlying_id" integer PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"exercise" text NOT NULL,
	"model" text NOT NULL,
	"settlement" text NOT NULL,
	"multiplier" double precision NOT NULL,
	"currency" text NOT NULL,
	"zone" text NOT NULL,
	"option_tick" double precision,
	"underlying_tick" double precision
);
--> statement-breakpoint
CREATE TABLE "daily_bars" (
	"underlying_id" integer NOT NULL,
	"session" date NOT NULL,
	"open" double precision NOT NULL,
	"high" double precision NOT NULL,
	"low" double precision NOT NULL,
	"close" double precision NOT NULL,
	"volume" double precision NOT NULL,
	CONSTRAINT "daily_bars_underlying_id_session_pk" PRIMARY KEY("underlying_id","session")
);
--> statement-breakpoint
CREATE TABLE "derived_measures" (
	"underlying_id" integer NOT NULL,
	"instant" timestamp with time zone NOT NULL,
	"version" integer NOT NULL,
	"underlying_price" double precision NOT NULL,
	"atm_by_tenor" double precision[] NOT NULL,
	"index30" double precision,
	"risk_reversal25" double precision,
	CONSTRAINT "derived_measures_underlying_id_instant_pk" PRIMARY KEY("underlying_id","instant")
);
--> statement-breakpoint
CREATE TABLE "events" (
	"id" serial PRIMARY KEY NOT NULL,
	"underlying_id" integer,
	"instant" timestamp with time zone NOT NULL,
	"kind" text NOT NULL,
	"label" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "import_mappings" (
	"owner" text NOT NULL,
	"headers" text NOT NULL,
	"options" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "imports" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"sequence" bigserial NOT NULL,
	"owner" text NOT NULL,
	"file_name" text NOT NULL,
	"sha256" text NOT NULL,
	"options" jsonb NOT NULL,
	"rows" integer NOT NULL,
	"slices" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "rate_curves" (
	"currency" text NOT NULL,
	"session" date NOT NULL,
	"days" double precision[] NOT NULL,
	"rates" double precision[] NOT NULL,
	CONSTRAINT "rate_curves_currency_session_pk" PRIMARY KEY("currency","session")
);
--> statement-breakpoint
CREATE TABLE "slices" (
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
	CONSTRAINT "slices_underlying_id_instant_expiry_pk" PRIMARY KEY("underlying_id","instant","expiry")
);
--> statement-breakpoint
CREATE TABLE "underlyings" (
	"id" serial PRIMARY KEY NOT NULL,
	"symbol" text NOT NULL,
	"name" text NOT NULL,
	"sector" text NOT NULL,
	"source" text NOT NULL,
	CONSTRAINT "underlyings_symbol_unique" UNIQUE("symbol")
);
--> statement-breakpoint
ALTER TABLE "contract_terms" ADD CONSTRAINT "contract_terms_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "daily_bars" ADD CONSTRAINT "daily_bars_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD CONSTRAINT "derived_measures_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "events" ADD CONSTRAINT "events_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "slices" ADD CONSTRAINT "slices_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "import_mappings_owner_headers_index" ON "import_mappings" USING btree ("owner","headers");--> statement-breakpoint
CREATE INDEX "imports_owner_sha256_index" ON "imports" USING btree ("owner","sha256");