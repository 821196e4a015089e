CREATE TABLE "intraday_bars" (
	"underlying_id" integer NOT NULL,
	"instant" timestamp with time zone NOT NULL,
	"open" double precision NOT NULL,
	"high" double precision NOT NULL,
	"low" double precision NOT NULL,
	"close" double precision NOT NULL,
	"volume" double precision NOT NULL,
	"source" text NOT NULL,
	"import_id" uuid,
	CONSTRAINT "intraday_bars_underlying_id_instant_pk" PRIMARY KEY("underlying_id","instant")
);
--> statement-breakpoint
CREATE TABLE "splits" (
	"underlying_id" integer NOT NULL,
	"session" date NOT NULL,
	"ratio" double precision NOT NULL,
	"source" text NOT NULL,
	"import_id" uuid,
	CONSTRAINT "splits_underlying_id_session_pk" PRIMARY KEY("underlying_id","session")
);
--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "ex_event30" double precision;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "event_moves" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "straddles" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "quantiles" double precision[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "derived_measures" ADD COLUMN "quality" double precision;--> statement-breakpoint
ALTER TABLE "intraday_bars" ADD CONSTRAINT "intraday_bars_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "splits" ADD CONSTRAINT "splits_underlying_id_underlyings_id_fk" FOREIGN KEY ("underlying_id") REFERENCES "public"."underlyings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
-- Changes are noted as of the other tables: bars within a session from their end on, a split always.
DO $$
DECLARE
	own text := '''underlying '' || underlying_id';
	watched record;
	way text;
BEGIN
	FOR watched IN SELECT * FROM (VALUES
		('intraday_bars', 'instant'),
		('splits', '''-infinity''::timestamptz')
	) AS w (tbl, at) LOOP
		FOREACH way IN ARRAY ARRAY['INSERT', 'UPDATE', 'DELETE'] LOOP
			EXECUTE format(
				'CREATE TRIGGER %I AFTER %s ON %I REFERENCING %s TABLE AS changed_rows FOR EACH STATEMENT EXECUTE FUNCTION note_changes(%L, %L, %L)',
				'note_own_' || lower(way), way, watched.tbl,
				CASE way WHEN 'DELETE' THEN 'OLD' ELSE 'NEW' END, watched.tbl, own, watched.at
			);
		END LOOP;
	END LOOP;
END $$;
