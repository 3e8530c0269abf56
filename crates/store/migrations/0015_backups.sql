-- Backups that were made by themselves: when, where, and whether restoring one and verifying every record has proven it.
CREATE TABLE backups (
    id      bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at      timestamptz NOT NULL DEFAULT now(),
    file    text        NOT NULL,
    bytes   bigint      NOT NULL,
    entries bigint      NOT NULL,
    -- Why it was not made, or is not proven; none where it is.
    failed  text
);
CREATE INDEX backups_by_time ON backups (at);
