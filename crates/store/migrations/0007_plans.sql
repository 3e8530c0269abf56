-- Versions of plans: which text was kept when, by whom and why. A text may come back.
CREATE TABLE plan_versions (
    plan_id  text        NOT NULL,
    number   integer     NOT NULL,
    hash     text        NOT NULL REFERENCES plans (hash),
    by_name  text        NOT NULL,
    why      text        NOT NULL,
    warnings integer     NOT NULL,
    at       timestamptz NOT NULL,
    PRIMARY KEY (plan_id, number)
);

INSERT INTO plan_versions (plan_id, number, hash, by_name, why, warnings, at)
SELECT id, row_number() OVER (PARTITION BY id ORDER BY added_at, hash), hash, '', '', 0, added_at FROM plans;

-- What somebody is writing, saved while it is typed. It is no version until it is kept as one.
CREATE TABLE plan_drafts (
    id       uuid        PRIMARY KEY,
    base     text        REFERENCES plans (hash),
    name     text        NOT NULL,
    source   text        NOT NULL,
    revision integer     NOT NULL,
    by_name  text        NOT NULL,
    at       timestamptz NOT NULL,
    ended    text
);

-- Pieces of plans that the shop keeps to use again.
CREATE TABLE plan_pieces (
    id      uuid        PRIMARY KEY,
    kind    text        NOT NULL,
    name    text        NOT NULL,
    body    text        NOT NULL,
    by_name text        NOT NULL,
    at      timestamptz NOT NULL,
    retired boolean     NOT NULL DEFAULT false
);
