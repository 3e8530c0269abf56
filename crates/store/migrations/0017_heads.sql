-- Heads of engines' records as the shop has signed them: at every signature the number and hash of the last entry, by the
-- shop's own key. They stand in a file beside the database, too: what is removed here is missed there.
CREATE TABLE heads (
    build_id  uuid        NOT NULL,
    seq       bigint      NOT NULL,
    hash      text        NOT NULL,
    at        timestamptz NOT NULL,
    key       text        NOT NULL,
    signature text        NOT NULL,
    PRIMARY KEY (build_id, seq, key)
);
