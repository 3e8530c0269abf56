-- Engines and parts are found by any piece of a word, and listed page by page, however many there are.
CREATE EXTENSION IF NOT EXISTS pg_trgm;
CREATE INDEX build_words_by_piece ON build_words USING gin (words gin_trgm_ops);
-- Over an expression: it would also be taken for `serial = …`, which it answers a thousand times as slowly.
CREATE INDEX lives_by_piece_of_serial ON lives USING gin ((serial || '') gin_trgm_ops) WHERE piece = 0;
CREATE INDEX lives_by_time ON lives (at, build_id, slot) WHERE piece = 0;
