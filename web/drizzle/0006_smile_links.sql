CREATE TABLE "smile_links" (
	"owner" text NOT NULL,
	"symbol" text NOT NULL,
	"donor" text NOT NULL,
	"kind" text NOT NULL,
	"shift" double precision,
	"ratio" double precision NOT NULL,
	CONSTRAINT "smile_links_owner_symbol_pk" PRIMARY KEY("owner","symbol")
);
