-- Documents and pages in passages, so that they are found by what they mean. They follow from the texts and are made again
-- where they are missing; the revision says from which text they are.
CREATE TABLE passage (
  kind TEXT NOT NULL,
  thing_id INTEGER NOT NULL,
  place INTEGER NOT NULL,
  words TEXT NOT NULL,
  meaning_key INTEGER NOT NULL,
  PRIMARY KEY (kind, thing_id, place)
) STRICT;
CREATE TABLE understood (
  kind TEXT NOT NULL,
  thing_id INTEGER NOT NULL,
  rev INTEGER NOT NULL,
  PRIMARY KEY (kind, thing_id)
) STRICT;
-- "which passages hold these words", for vectors that nobody needs any more
CREATE INDEX passage_meaning ON passage(meaning_key);
