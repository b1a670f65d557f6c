-- What the book needs of PostgreSQL beyond tables, keys and plain indexes. Run once, by the first migration.

-- History is never changed or deleted, whoever asks; RuntimeRights keeps the running program from trying.
CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'rows of % are never changed or deleted', TG_TABLE_NAME;
END
$$;
CREATE TRIGGER movements_append_only BEFORE UPDATE OR DELETE ON movements
    FOR EACH ROW EXECUTE FUNCTION refuse_change();
CREATE TRIGGER bench_entries_append_only BEFORE UPDATE OR DELETE ON bench_entries
    FOR EACH ROW EXECUTE FUNCTION refuse_change();
CREATE TRIGGER service_map_revisions_append_only BEFORE UPDATE OR DELETE ON service_map_revisions
    FOR EACH ROW EXECUTE FUNCTION refuse_change();
CREATE TRIGGER unit_events_append_only BEFORE UPDATE OR DELETE ON unit_events
    FOR EACH ROW EXECUTE FUNCTION refuse_change();
CREATE TRIGGER battery_readings_append_only BEFORE UPDATE OR DELETE ON battery_readings
    FOR EACH ROW EXECUTE FUNCTION refuse_change();

-- Whoever has a session open on whatever instance hears of each new line (BenchNews)...
CREATE FUNCTION tell_bench_entry() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('bench_entries', NEW.session_id || ' ' || NEW.sequence);
    RETURN NULL;
END
$$;
CREATE TRIGGER bench_entries_told AFTER INSERT ON bench_entries
    FOR EACH ROW EXECUTE FUNCTION tell_bench_entry();

-- ... and when the repair leaves the bench, which no page has seen however many lines it has seen.
CREATE FUNCTION tell_bench_state() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('bench_entries', s.id || ' 2147483647') FROM bench_sessions s WHERE s.repair_id = NEW.id;
    RETURN NULL;
END
$$;
CREATE TRIGGER repairs_state_told AFTER UPDATE OF state ON repairs
    FOR EACH ROW WHEN (OLD.state IS DISTINCT FROM NEW.state) EXECUTE FUNCTION tell_bench_state();

-- "Did you mean": the nearest codes by trigrams (ResolveCode). On an expression, or plain equality would be looked up in
-- these instead of in the unique indexes.
CREATE INDEX ix_units_tag_trigrams ON units USING gist ((tag || '') gist_trgm_ops);
CREATE INDEX ix_units_serial_trigrams ON units USING gist ((serial || '') gist_trgm_ops);
CREATE INDEX ix_items_code_trigrams ON items USING gist ((code || '') gist_trgm_ops);
