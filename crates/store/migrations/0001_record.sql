-- The record of every build, and the tables that lists are read from.

CREATE TABLE plans (
    hash     text PRIMARY KEY,
    id       text NOT NULL,
    name     text NOT NULL,
    source   text NOT NULL,
    added_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE people (
    id       text PRIMARY KEY,
    position integer NOT NULL,
    body     jsonb NOT NULL
);

CREATE TABLE instruments (
    id       text PRIMARY KEY,
    position integer NOT NULL,
    body     jsonb NOT NULL
);

-- One row for each build, kept in the same statement as its events and rebuildable from them.
CREATE TABLE builds (
    id        uuid PRIMARY KEY,
    seq       bigint NOT NULL,
    plan_hash text NOT NULL REFERENCES plans (hash),
    summary   jsonb NOT NULL
);

-- Kept as text, not jsonb: the hash is over the very bytes that were written.
CREATE TABLE events (
    build_id uuid NOT NULL,
    seq      bigint NOT NULL,
    body     text NOT NULL,
    hash     bytea NOT NULL,
    PRIMARY KEY (build_id, seq)
);

CREATE FUNCTION refuse_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'events are never changed: void the entry instead';
END $$;

CREATE TRIGGER events_stay BEFORE UPDATE OR DELETE OR TRUNCATE ON events
    FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
