-- What others offer: who they are, what an offer may do, pages of theirs, and notes with their sources.
CREATE TABLE competitor (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  name TEXT NOT NULL,
  address TEXT,
  note TEXT
) STRICT;
CREATE INDEX competitor_product ON competitor(product_id);

CREATE TABLE capability (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  position REAL NOT NULL,
  title TEXT NOT NULL,
  -- none, partly or fully; nothing where nobody said
  offers TEXT,
  note TEXT
) STRICT;
CREATE INDEX capability_product ON capability(product_id);

-- The text of a page is never changed, so that what is quoted from it stays there.
CREATE TABLE found_page (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  competitor_id INTEGER REFERENCES competitor(id),
  title TEXT NOT NULL,
  address TEXT,
  taken_on TEXT NOT NULL,
  text TEXT NOT NULL
) STRICT;
CREATE INDEX found_page_product ON found_page(product_id);
CREATE INDEX found_page_competitor ON found_page(competitor_id);

CREATE TABLE competitor_note (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  competitor_id INTEGER NOT NULL REFERENCES competitor(id),
  capability_id INTEGER REFERENCES capability(id),
  offers TEXT,
  words TEXT NOT NULL,
  page_id INTEGER REFERENCES found_page(id),
  source TEXT,
  noted_on TEXT NOT NULL,
  own TEXT
) STRICT;
CREATE INDEX competitor_note_product ON competitor_note(product_id);
CREATE INDEX competitor_note_competitor ON competitor_note(competitor_id);
-- the cell of a comparison
CREATE INDEX competitor_note_capability ON competitor_note(capability_id, competitor_id, noted_on);
CREATE INDEX competitor_note_page ON competitor_note(page_id);

CREATE TRIGGER words_competitor_note_insert AFTER INSERT ON competitor_note BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 19, 'competitor_note', NEW.id, NEW.words, NEW.source);
END;
CREATE TRIGGER words_competitor_note_delete AFTER DELETE ON competitor_note BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 19;
END;
