-- What people think of a finding: suggested, accepted or thrown_out. Nothing where a person made it.
ALTER TABLE finding ADD COLUMN state TEXT;
-- How sure the engine is that an excerpt belongs to a finding; nothing where a person said so.
ALTER TABLE link ADD COLUMN sure REAL;
-- 1 once a finding was looked for. It follows from the words and the findings: the ledger keeps none of it.
ALTER TABLE excerpt ADD COLUMN placed INTEGER;

-- What the engine tells of a finding. It follows from its excerpts and from the day, and is told anew where they changed.
CREATE TABLE finding_told (
  finding_id INTEGER PRIMARY KEY REFERENCES finding(id) ON DELETE CASCADE,
  -- by what it was told
  stamp TEXT NOT NULL,
  phrases TEXT NOT NULL,
  nearest TEXT NOT NULL,
  related TEXT NOT NULL,
  movement TEXT NOT NULL,
  p REAL NOT NULL,
  recent INTEGER NOT NULL,
  before INTEGER NOT NULL
) STRICT;

-- The team's own words, with what else people say for them.
CREATE TABLE term (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  name TEXT NOT NULL,
  synonyms TEXT,
  note TEXT,
  own TEXT
) STRICT;
CREATE INDEX term_product ON term(product_id);

-- Which excerpt speaks of which term. It follows from the words.
CREATE TABLE about (
  excerpt_id INTEGER NOT NULL REFERENCES excerpt(id) ON DELETE CASCADE,
  term_id INTEGER NOT NULL REFERENCES term(id) ON DELETE CASCADE,
  PRIMARY KEY (excerpt_id, term_id)
) STRICT, WITHOUT ROWID;
-- "what is said of a term"
CREATE INDEX about_term ON about(term_id);

CREATE TRIGGER words_term_insert AFTER INSERT ON term BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 15, 'term', NEW.id, NEW.name, concat_ws(' ', NEW.synonyms, NEW.note));
END;
CREATE TRIGGER words_term_update AFTER UPDATE OF name, synonyms, note ON term BEGIN
  UPDATE thing_words SET title = NEW.name, body = concat_ws(' ', NEW.synonyms, NEW.note) WHERE rowid = NEW.id * 64 + 15;
END;
CREATE TRIGGER words_term_delete AFTER DELETE ON term BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 15;
END;
