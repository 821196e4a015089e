CREATE TABLE "data_changes" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"subject" text NOT NULL,
	"table" text NOT NULL,
	"from_at" timestamp with time zone NOT NULL,
	"weight" bigint DEFAULT 1 NOT NULL,
	"transaction" text DEFAULT pg_current_xact_id()::text NOT NULL
);
--> statement-breakpoint
CREATE INDEX "data_changes_subject_table_from_at_index" ON "data_changes" USING btree ("subject","table","from_at");--> statement-breakpoint
-- Notes changes of a statement, one row a subject. Arguments: table, subject and instant as expressions of a row.
CREATE FUNCTION note_changes() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	EXECUTE format(
		'INSERT INTO data_changes (subject, "table", from_at) SELECT %s, %L, min(%s) FROM changed_rows GROUP BY 1',
		TG_ARGV[1], TG_ARGV[0], TG_ARGV[2]
	);
	RETURN NULL;
END $$;
--> statement-breakpoint
-- The same for rows too large to be gathered: one row a subject and transaction, remembered by a setting of the transaction.
CREATE FUNCTION note_slice_change() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
	owner integer;
	changed_at timestamptz;
	name text;
	noted timestamptz;
BEGIN
	IF TG_OP = 'DELETE' THEN owner := OLD.underlying_id; changed_at := OLD.instant;
	ELSIF TG_OP = 'UPDATE' THEN owner := NEW.underlying_id; changed_at := least(OLD.instant, NEW.instant);
	ELSE owner := NEW.underlying_id; changed_at := NEW.instant;
	END IF;
	name := 'changed.slices_' || owner;
	noted := nullif(current_setting(name, true), '')::timestamptz;
	IF noted <= changed_at THEN RETURN NULL; END IF;
	IF noted IS NULL THEN
		INSERT INTO data_changes (subject, "table", from_at) VALUES ('underlying ' || owner, 'slices', changed_at);
	ELSE
		UPDATE data_changes SET from_at = changed_at
		WHERE subject = 'underlying ' || owner AND "table" = 'slices' AND "transaction" = pg_current_xact_id()::text;
	END IF;
	PERFORM set_config(name, changed_at::text, true);
	RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER note_change AFTER INSERT OR UPDATE OR DELETE ON slices FOR EACH ROW EXECUTE FUNCTION note_slice_change();
--> statement-breakpoint
DO $$
DECLARE
	own text := '''underlying '' || underlying_id';
	always text := '''-infinity''::timestamptz';
	-- A session's row may count from the evening before, wherever its zone is.
	of_session text := '(session - 1)::timestamp AT TIME ZONE ''UTC''';
	watched record;
	way text;
BEGIN
	FOR watched IN SELECT * FROM (VALUES
		('derived_measures', 'own', own, 'instant'),
		('futures_curves', 'own', own, 'instant'),
		('daily_bars', 'own', own, of_session),
		('events', 'own', own, always),
		('dividends', 'own', own, always),
		('carry_terms', 'own', own, always),
		('contract_terms', 'own', own, always),
		('contract_terms', 'all', '''all''', always),
		('underlyings', 'own', '''underlying '' || id', always),
		('underlyings', 'all', '''all''', always),
		('former_symbols', 'all', '''all''', always),
		('rate_curves', 'own', '''currency '' || currency', of_session)
	) AS w (tbl, scope, subject, at) LOOP
		FOREACH way IN ARRAY ARRAY['INSERT', 'UPDATE', 'DELETE'] LOOP
			EXECUTE format(
				'CREATE TRIGGER %I AFTER %s ON %I REFERENCING %s TABLE AS changed_rows FOR EACH STATEMENT EXECUTE FUNCTION note_changes(%L, %L, %L)',
				'note_' || watched.scope || '_' || lower(way), way, watched.tbl,
				CASE way WHEN 'DELETE' THEN 'OLD' ELSE 'NEW' END, watched.tbl, watched.subject, watched.at
			);
		END LOOP;
	END LOOP;
END $$;
--> statement-breakpoint
-- Puts the changes of a subject's table together, from the earliest on; more is forgotten than need be, never less.
CREATE FUNCTION compact_data_changes() RETURNS void LANGUAGE sql AS $$
	WITH crowded AS (
		SELECT subject, "table" FROM data_changes GROUP BY 1, 2 HAVING count(*) > 50
	), gone AS (
		DELETE FROM data_changes c USING crowded w WHERE c.subject = w.subject AND c."table" = w."table" RETURNING c.*
	)
	INSERT INTO data_changes (subject, "table", from_at, weight, "transaction")
	SELECT subject, "table", min(from_at), sum(weight), '' FROM gone GROUP BY 1, 2
$$;
