-- Bolts in the vice: torques with their stretches on one lubricant after another, without an engine. A test stays as it
-- was recorded; a wrong one is voided with a reason.
CREATE TABLE friction_tests (
    id      uuid        PRIMARY KEY,
    body    jsonb       NOT NULL,
    by_id   text        NOT NULL,
    by_name text        NOT NULL,
    at      timestamptz NOT NULL
);

CREATE TABLE friction_test_voids (
    test_id uuid        PRIMARY KEY REFERENCES friction_tests (id),
    reason  text        NOT NULL,
    by_id   text        NOT NULL,
    by_name text        NOT NULL,
    at      timestamptz NOT NULL
);
