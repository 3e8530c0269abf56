-- What the role that a server works by may do, after the tables were brought up to date by their owner: everything with
-- lists and settings, and of the record only reading and adding.
DO $$
BEGIN
    -- Two servers may start at the same moment.
    PERFORM pg_advisory_xact_lock(hashtext('rigore grants'));
    BEGIN
        IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'rigore_server') THEN
            CREATE ROLE rigore_server LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE;
        END IF;
    EXCEPTION WHEN duplicate_object OR unique_violation THEN
        -- One that starts on another database of the same PostgreSQL has made it.
        NULL;
    END;
    IF EXISTS (
        SELECT FROM pg_tables WHERE schemaname = 'public' AND tablename <> '_sqlx_migrations'
            AND NOT has_table_privilege('rigore_server', format('%I.%I', schemaname, tablename), 'INSERT')
    ) THEN
        GRANT USAGE ON SCHEMA public TO rigore_server;
        GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO rigore_server;
        GRANT USAGE ON ALL SEQUENCES IN SCHEMA public TO rigore_server;
        REVOKE UPDATE, DELETE, TRUNCATE ON events, pictures, plans, certificates FROM rigore_server;
        REVOKE ALL ON _sqlx_migrations FROM rigore_server;
    END IF;
END $$;
