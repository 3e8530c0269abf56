-- A secret that somebody else has set for a person: who, until its owner chooses another. It proves nothing before.
ALTER TABLE people
    ADD COLUMN password_set_by text,
    ADD COLUMN pin_set_by      text;

-- Links to sheets and the address of the calendar are kept by their hash alone: whoever reads the database, or a backup
-- of it, opens nothing by it. Who made one stands beside it by key, too, so that those of people who left are seen.
UPDATE shares SET token = encode(sha256(convert_to(token, 'UTF8')), 'hex');
UPDATE feeds SET token = encode(sha256(convert_to(token, 'UTF8')), 'hex');
ALTER TABLE shares ADD COLUMN by_id text;
ALTER TABLE feeds ADD COLUMN by_id text;
UPDATE shares SET by_id = people.id FROM people WHERE people.body ->> 'name' = by_name;
UPDATE feeds SET by_id = people.id FROM people WHERE people.body ->> 'name' = by_name;

-- Written to by whoever asks whether a server can work: that it can read is not enough.
CREATE TABLE heartbeat (
    one boolean PRIMARY KEY DEFAULT true CHECK (one),
    at  timestamptz NOT NULL DEFAULT now()
);
INSERT INTO heartbeat DEFAULT VALUES;

-- Engines whose record is not as it was recorded: which entry, what is wrong with it, and since when that is known.
CREATE TABLE broken_builds (
    build_id uuid PRIMARY KEY,
    seq      bigint      NOT NULL,
    what     text        NOT NULL,
    found    timestamptz NOT NULL
);
