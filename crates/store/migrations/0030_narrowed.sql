-- Lists narrowed by what stands with an excerpt, and by letters that stand in what was said.

-- Of which source, by whom, of which account and with which rating an excerpt was said follows from its item and stands with it,
-- as its product and its day do (0027).
ALTER TABLE excerpt ADD COLUMN source_id INTEGER;
ALTER TABLE excerpt ADD COLUMN person_id INTEGER;
ALTER TABLE excerpt ADD COLUMN account_id INTEGER;
ALTER TABLE excerpt ADD COLUMN rating REAL;
UPDATE excerpt SET (source_id, person_id, account_id, rating) =
  (SELECT i.source_id, i.person_id, i.account_id, i.rating FROM feedback_item i WHERE i.id = item_id);
DROP TRIGGER excerpt_of_item;
-- Who adds an excerpt says all of it at once, or each index would be written again; what is put back, or comes from another
-- version, comes without it.
CREATE TRIGGER excerpt_of_item AFTER INSERT ON excerpt WHEN NEW.source_id IS NULL BEGIN
  UPDATE excerpt SET (product_id, said_on, source_id, person_id, account_id, rating) =
    (SELECT i.product_id, i.said_on, i.source_id, i.person_id, i.account_id, i.rating FROM feedback_item i WHERE i.id = NEW.item_id)
    WHERE id = NEW.id;
END;
DROP TRIGGER excerpt_with_item;
CREATE TRIGGER excerpt_with_item AFTER UPDATE OF product_id, said_on, source_id, person_id, account_id, rating ON feedback_item BEGIN
  UPDATE excerpt SET product_id = NEW.product_id, said_on = NEW.said_on, source_id = NEW.source_id, person_id = NEW.person_id,
    account_id = NEW.account_id, rating = NEW.rating WHERE item_id = NEW.id;
END;
-- excerpts of a source, by a person, of an account, by rating
CREATE INDEX excerpt_by_source ON excerpt(product_id, source_id);
CREATE INDEX excerpt_by_person ON excerpt(product_id, person_id);
CREATE INDEX excerpt_by_account ON excerpt(product_id, account_id);
CREATE INDEX excerpt_by_rating ON excerpt(product_id, rating);

-- people and accounts by name, and what was said in the order of who said it
CREATE INDEX person_by_name ON person(name COLLATE NOCASE);
CREATE INDEX account_by_name ON account(name COLLATE NOCASE);

-- In which items three letters stand in a row, so that only those are looked at in which what is looked for can stand.
CREATE VIEW item_folded AS SELECT id, kite_fold(text) AS text FROM feedback_item;
CREATE VIRTUAL TABLE item_letters USING fts5(
  text, content = 'item_folded', content_rowid = 'id', tokenize = 'trigram case_sensitive 1', detail = 'none', columnsize = 0
);
INSERT INTO item_letters(item_letters) VALUES ('rebuild');
CREATE TRIGGER item_letters_insert AFTER INSERT ON feedback_item BEGIN
  INSERT INTO item_letters(rowid, text) VALUES (NEW.id, kite_fold(NEW.text));
END;
CREATE TRIGGER item_letters_delete AFTER DELETE ON feedback_item BEGIN
  INSERT INTO item_letters(item_letters, rowid, text) VALUES ('delete', OLD.id, kite_fold(OLD.text));
END;
CREATE TRIGGER item_letters_update AFTER UPDATE OF text ON feedback_item BEGIN
  INSERT INTO item_letters(item_letters, rowid, text) VALUES ('delete', OLD.id, kite_fold(OLD.text));
  INSERT INTO item_letters(rowid, text) VALUES (NEW.id, kite_fold(NEW.text));
END;
