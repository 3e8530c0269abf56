-- Sheets that somebody outside of the shop may read, by a link that a lead made: until it ends, or is taken back.
CREATE TABLE shares (
    id       uuid PRIMARY KEY,
    token    text NOT NULL UNIQUE,
    build_id uuid NOT NULL,
    by_name  text NOT NULL,
    made_at  timestamptz NOT NULL DEFAULT now(),
    ends     timestamptz NOT NULL,
    retired  boolean NOT NULL DEFAULT false
);
CREATE INDEX shares_by_build ON shares (build_id);
