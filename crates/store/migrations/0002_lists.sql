-- Lists that can be searched and filtered in the database, however many engines there are.

-- `edition` is that of the rules a row was computed by: older ones are computed anew at the start.
ALTER TABLE builds
    ADD COLUMN status  text        NOT NULL DEFAULT 'in-work',
    ADD COLUMN touched timestamptz NOT NULL DEFAULT now(),
    ADD COLUMN edition integer     NOT NULL DEFAULT 1;

UPDATE builds SET
    status  = coalesce(summary ->> 'status', 'in-work'),
    touched = coalesce((summary ->> 'touched')::timestamptz, now());

-- A row is rewritten with every entry: room beside it keeps that in its page.
ALTER TABLE builds SET (fillfactor = 70);
CREATE INDEX builds_by_status ON builds (status);

-- What an engine can be found by, in lower case: name, owner, number, serials and batches of parts.
CREATE TABLE build_words (
    build_id uuid PRIMARY KEY,
    words    text NOT NULL
);
