-- What the engine tells of an excerpt. It follows from the words, so it is told anew whenever the engine changes, and is
-- no change that anybody made: the ledger keeps none of these four columns.
ALTER TABLE excerpt ADD COLUMN engine INTEGER NOT NULL DEFAULT 0;
ALTER TABLE excerpt ADD COLUMN sure REAL;
ALTER TABLE excerpt ADD COLUMN language TEXT;
ALTER TABLE excerpt ADD COLUMN meaning_key INTEGER;
-- 1 where a person said what it is: the engine leaves its kind and its sentiment alone from then on.
ALTER TABLE excerpt ADD COLUMN chosen INTEGER;
-- "which excerpts hold these words", for vectors that nobody needs any more
CREATE INDEX excerpt_meaning ON excerpt(meaning_key);

-- The meaning of words, by a key of the words: 384 numbers of one byte. The same words are understood once.
CREATE TABLE meaning (
  key INTEGER PRIMARY KEY,
  vector BLOB NOT NULL
) STRICT;
