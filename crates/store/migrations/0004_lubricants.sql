-- The shop's own lubricants. A change is another version; what was used keeps its figures in the record.
CREATE TABLE lubricants (
    id      text        NOT NULL,
    version integer     NOT NULL,
    body    jsonb       NOT NULL,
    retired boolean     NOT NULL,
    by_name text        NOT NULL,
    at      timestamptz NOT NULL,
    PRIMARY KEY (id, version)
);

-- What the shop has decided for all of its engines, each change in its row.
CREATE TABLE shop_choices (
    number  bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    key     text        NOT NULL,
    value   jsonb       NOT NULL,
    by_name text        NOT NULL,
    at      timestamptz NOT NULL
);
CREATE INDEX shop_choices_by_key ON shop_choices (key, number);

-- Bolts whose friction is taken together: of one kind and batch, on one lubricant.
CREATE TABLE nut_factor_groups (
    id      integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    kind    text NOT NULL,
    thread  text NOT NULL,
    bearing text NOT NULL,
    batch   text NOT NULL,
    UNIQUE (kind, thread, bearing, batch)
);

-- The friction that each bolt showed in a climb: one row for a bolt in a round of its joint, kept in the same
-- transaction as its entries and rebuildable from them.
CREATE TABLE nut_factors (
    build_id   uuid             NOT NULL,
    joint      text             NOT NULL,
    round      integer          NOT NULL,
    fastener   text             NOT NULL,
    bolt       integer          NOT NULL,
    group_id   integer          NOT NULL REFERENCES nut_factor_groups (id),
    k          double precision NOT NULL,
    pulls      integer          NOT NULL,
    torque_nm  double precision NOT NULL,
    stretch_mm double precision NOT NULL,
    at         timestamptz      NOT NULL,
    PRIMARY KEY (build_id, joint, round, fastener, bolt)
);
-- What a group comes to is read off this alone.
CREATE INDEX nut_factors_by_group ON nut_factors (group_id) INCLUDE (k, at);
