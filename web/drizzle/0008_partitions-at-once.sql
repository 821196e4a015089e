-- Whether a month's table is there is looked up in the catalog itself: a name that was not found a moment ago is remembered as
-- missing while one waits for somebody else who makes it.
CREATE OR REPLACE FUNCTION ensure_slices_partition(at timestamptz) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
	low timestamptz := date_trunc('month', at AT TIME ZONE 'UTC') AT TIME ZONE 'UTC';
	high timestamptz := (date_trunc('month', at AT TIME ZONE 'UTC') + interval '1 month') AT TIME ZONE 'UTC';
	name text := 'slices_' || to_char(at AT TIME ZONE 'UTC', 'YYYY_MM');
BEGIN
	IF EXISTS (SELECT FROM pg_class WHERE relname = name AND relnamespace = 'public'::regnamespace) THEN RETURN; END IF;
	PERFORM pg_advisory_xact_lock(hashtext('slices partitions'));
	IF EXISTS (SELECT FROM pg_class WHERE relname = name AND relnamespace = 'public'::regnamespace) THEN RETURN; END IF;
	EXECUTE format('CREATE TABLE %I (LIKE slices INCLUDING DEFAULTS, CHECK (instant >= %L AND instant < %L))', name, low, high);
	EXECUTE format('ALTER TABLE slices ATTACH PARTITION %I FOR VALUES FROM (%L) TO (%L)', name, low, high);
END $$;
