-- Rows of older editions are counted whenever the shop's list is shown. Most entries leave the edition as it is.
CREATE INDEX builds_by_edition ON builds (edition);
