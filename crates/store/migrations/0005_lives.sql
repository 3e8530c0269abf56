-- What every part and every piece of a set went through that has a serial, mark or set number: one row for each
-- engine it was in, kept in the same transaction as its entries and rebuildable from them.
CREATE TABLE lives (
    build_id uuid        NOT NULL,
    slot     text        NOT NULL,
    piece    integer     NOT NULL,
    -- The serial as it is looked for: in lower case.
    serial   text        NOT NULL,
    kind     text        NOT NULL,
    body     jsonb       NOT NULL,
    at       timestamptz NOT NULL,
    PRIMARY KEY (build_id, slot, piece)
);
CREATE INDEX lives_by_serial ON lives (serial, kind, at);
