-- Texts of a draft as they were saved, so that changes are undone and redone.
CREATE TABLE plan_draft_texts (
    draft   uuid        NOT NULL REFERENCES plan_drafts (id),
    number  integer     NOT NULL,
    name    text        NOT NULL,
    source  text        NOT NULL,
    typed   boolean     NOT NULL,
    by_name text        NOT NULL,
    at      timestamptz NOT NULL,
    PRIMARY KEY (draft, number)
);
ALTER TABLE plan_drafts ADD COLUMN number integer NOT NULL DEFAULT 1;
INSERT INTO plan_draft_texts (draft, number, name, source, typed, by_name, at)
SELECT id, 1, name, source, false, by_name, at FROM plan_drafts;
