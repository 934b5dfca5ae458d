-- What an idea says, its steps, and how well it is supported.
ALTER TABLE idea ADD COLUMN guess TEXT;
ALTER TABLE idea ADD COLUMN known_by TEXT;
ALTER TABLE idea ADD COLUMN cost_of_nothing TEXT;
-- The numbers of the ideas that were merged into it, as a JSON array: their histories are told with its own.
ALTER TABLE idea ADD COLUMN merged TEXT;

CREATE TABLE increment (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  idea_id INTEGER NOT NULL REFERENCES idea(id),
  position REAL NOT NULL,
  title TEXT NOT NULL,
  shows TEXT,
  measure TEXT,
  effort REAL,
  quarter TEXT,
  state TEXT NOT NULL,
  note TEXT,
  own TEXT
) STRICT;
CREATE INDEX increment_product ON increment(product_id);
CREATE INDEX increment_idea ON increment(idea_id);

-- A column and no link: a story belongs to one increment at most.
ALTER TABLE work_item ADD COLUMN increment_id INTEGER REFERENCES increment(id);
CREATE INDEX work_item_increment ON work_item(increment_id) WHERE increment_id IS NOT NULL;

-- The increment that a result is of, and what it says of what it was to show: held, unclear or failed.
ALTER TABLE result ADD COLUMN increment_id INTEGER REFERENCES increment(id);
ALTER TABLE result ADD COLUMN verdict TEXT;
CREATE INDEX result_increment ON result(increment_id) WHERE increment_id IS NOT NULL;

-- How well an idea is supported. It follows from what stands behind it and from the day, and is told anew where they
-- changed.
CREATE TABLE idea_told (
  idea_id INTEGER PRIMARY KEY REFERENCES idea(id) ON DELETE CASCADE,
  grade TEXT NOT NULL,
  confidence REAL NOT NULL,
  reasons TEXT NOT NULL
) STRICT;

CREATE TRIGGER words_increment_insert AFTER INSERT ON increment BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 16, 'increment', NEW.id, NEW.title, concat_ws(' ', NEW.shows, NEW.measure, NEW.note));
END;
CREATE TRIGGER words_increment_update AFTER UPDATE OF title, shows, measure, note ON increment BEGIN
  UPDATE thing_words SET title = NEW.title, body = concat_ws(' ', NEW.shows, NEW.measure, NEW.note)
    WHERE rowid = NEW.id * 64 + 16;
END;
CREATE TRIGGER words_increment_delete AFTER DELETE ON increment BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 16;
END;

DROP TRIGGER words_idea_insert;
DROP TRIGGER words_idea_update;
CREATE TRIGGER words_idea_insert AFTER INSERT ON idea BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 5, 'idea', NEW.id, NEW.title, concat_ws(' ', NEW.problem, NEW.guess, NEW.known_by, NEW.cost_of_nothing));
END;
CREATE TRIGGER words_idea_update AFTER UPDATE OF title, problem, guess, known_by, cost_of_nothing ON idea BEGIN
  UPDATE thing_words SET title = NEW.title, body = concat_ws(' ', NEW.problem, NEW.guess, NEW.known_by, NEW.cost_of_nothing)
    WHERE rowid = NEW.id * 64 + 5;
END;
