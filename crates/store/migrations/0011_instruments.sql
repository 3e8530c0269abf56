-- What was read with which instrument, kept in the same statement as its entry: so that all of it is found when an
-- instrument turns out to be wrong.
CREATE TABLE uses (
    instrument text        NOT NULL,
    at         timestamptz NOT NULL,
    build_id   uuid        NOT NULL,
    seq        bigint      NOT NULL,
    PRIMARY KEY (instrument, at, build_id, seq)
);
CREATE INDEX uses_by_build ON uses (build_id);

-- What the shop knows of an instrument besides what a record carries of it.
ALTER TABLE instruments ADD COLUMN card jsonb NOT NULL DEFAULT '{}';

-- Checks before work.
CREATE TABLE checks (
    id         uuid PRIMARY KEY,
    instrument text        NOT NULL,
    at         timestamptz NOT NULL DEFAULT now(),
    by_name    text        NOT NULL,
    known_by   text        NOT NULL,
    good       boolean     NOT NULL,
    body       jsonb       NOT NULL
);
CREATE INDEX checks_by_instrument ON checks (instrument, at);

-- Files that certificates are, by the hash of their content.
CREATE TABLE certificates (
    hash  text PRIMARY KEY,
    media text  NOT NULL,
    name  text  NOT NULL,
    bytes bytea NOT NULL
);
