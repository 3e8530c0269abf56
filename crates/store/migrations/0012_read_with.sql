-- When something was read with which instrument on which engine, one row where there were up to 64: so that all that
-- one instrument was ever used for is found at once. A block is 64 entries of the engine's record; its times are in
-- order. No index is on what grows, so that growing costs little.
-- The block that an entry of an engine lies in.
CREATE FUNCTION block_of(seq bigint) RETURNS bigint LANGUAGE sql IMMUTABLE PARALLEL SAFE RETURN seq / 64;

CREATE TABLE read_with (
    instrument text          NOT NULL,
    build_id   uuid          NOT NULL,
    block      bigint        NOT NULL,
    at         timestamptz[] NOT NULL,
    PRIMARY KEY (instrument, build_id, block)
) WITH (fillfactor = 70);
CREATE INDEX read_with_by_build ON read_with (build_id);

INSERT INTO read_with (instrument, build_id, block, at)
SELECT instrument, build_id, block_of(seq), array_agg(at ORDER BY at) FROM uses GROUP BY 1, 2, 3;

DROP TABLE uses;
