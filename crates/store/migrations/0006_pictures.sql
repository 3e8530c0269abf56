-- Pictures that entries refer to by the hash of their bytes. Like entries they are never changed.
CREATE TABLE pictures (
    hash     text        PRIMARY KEY,
    media    text        NOT NULL,
    bytes    bytea       NOT NULL,
    added_at timestamptz NOT NULL DEFAULT now()
);

CREATE TRIGGER pictures_stay BEFORE UPDATE OR DELETE OR TRUNCATE ON pictures
    FOR EACH STATEMENT EXECUTE FUNCTION refuse_change();
