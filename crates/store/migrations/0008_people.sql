-- Who the people of a shop are to Rigore: how they prove it, at which benches, and what was done in its administration.

ALTER TABLE people
    ADD COLUMN active   boolean NOT NULL DEFAULT true,
    -- PHC strings; nobody can sign in by what is not there.
    ADD COLUMN password text,
    ADD COLUMN pin      text;

-- The shop itself: one row from its first run on.
CREATE TABLE shop (
    one         boolean PRIMARY KEY DEFAULT true CHECK (one),
    name        text NOT NULL,
    zone        text NOT NULL,
    torque_unit text NOT NULL,
    length_unit text NOT NULL,
    founded_at  timestamptz NOT NULL DEFAULT now()
);

-- Benches whose browser a lead has enrolled: there a tap and a PIN change the person.
CREATE TABLE devices (
    id          uuid PRIMARY KEY,
    name        text NOT NULL,
    token       bytea NOT NULL UNIQUE,
    enrolled_by text NOT NULL,
    enrolled_at timestamptz NOT NULL DEFAULT now(),
    retired     boolean NOT NULL DEFAULT false
);

-- By the hash of what the browser holds.
CREATE TABLE sessions (
    token     bytea PRIMARY KEY,
    person    text NOT NULL REFERENCES people (id),
    device    uuid REFERENCES devices (id),
    began     timestamptz NOT NULL DEFAULT now(),
    seen      timestamptz NOT NULL DEFAULT now(),
    idle      interval NOT NULL,
    ends      timestamptz NOT NULL,
    -- When its person last proved to be who they are.
    confirmed timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX sessions_by_person ON sessions (person);

-- Guesses of secrets that failed, by what is guessed and from where.
CREATE TABLE tries (
    key    text PRIMARY KEY,
    failed integer NOT NULL,
    last   timestamptz NOT NULL
);

CREATE TABLE doings (
    id      bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at      timestamptz NOT NULL DEFAULT now(),
    by_id   text NOT NULL,
    by_name text NOT NULL,
    what    text NOT NULL
);

ALTER TABLE instruments ADD COLUMN active boolean NOT NULL DEFAULT true;
