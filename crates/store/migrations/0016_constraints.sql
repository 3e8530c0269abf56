-- What is kept beside a build is of a build that is there, and an entry is one. Rows of before are left as they are:
-- checking them all would hold a large shop up.
ALTER TABLE build_words ADD CONSTRAINT build_words_of_build
    FOREIGN KEY (build_id) REFERENCES builds (id) NOT VALID;
ALTER TABLE outlooks ADD CONSTRAINT outlooks_of_build FOREIGN KEY (build_id) REFERENCES builds (id) NOT VALID;
ALTER TABLE times ADD CONSTRAINT times_of_build FOREIGN KEY (build_id) REFERENCES builds (id) NOT VALID;
ALTER TABLE lives ADD CONSTRAINT lives_of_build FOREIGN KEY (build_id) REFERENCES builds (id) NOT VALID;
ALTER TABLE shares ADD CONSTRAINT shares_of_build FOREIGN KEY (build_id) REFERENCES builds (id) NOT VALID;
ALTER TABLE shares ADD CONSTRAINT shares_of_person FOREIGN KEY (by_id) REFERENCES people (id) NOT VALID;
ALTER TABLE feeds ADD CONSTRAINT feeds_of_person FOREIGN KEY (by_id) REFERENCES people (id) NOT VALID;
ALTER TABLE events ADD CONSTRAINT events_are_numbered CHECK (seq >= 1) NOT VALID;
ALTER TABLE events ADD CONSTRAINT events_are_chained CHECK (octet_length(hash) = 32) NOT VALID;
ALTER TABLE builds ADD CONSTRAINT builds_are_numbered CHECK (seq >= 0) NOT VALID;
