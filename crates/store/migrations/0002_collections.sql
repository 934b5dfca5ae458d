-- Fields that teams add, saved views, and words to search in everything.

-- The values of a team's own fields: one JSON object in each row, by the field's name. So they are in the row's
-- revision and in the ledger like every other column. Fields that are ordered by get an index each, made with them.
ALTER TABLE feedback_item ADD COLUMN own TEXT;
ALTER TABLE excerpt ADD COLUMN own TEXT;
ALTER TABLE finding ADD COLUMN own TEXT;
ALTER TABLE person ADD COLUMN own TEXT;
ALTER TABLE account ADD COLUMN own TEXT;
ALTER TABLE objective ADD COLUMN own TEXT;
ALTER TABLE idea ADD COLUMN own TEXT;
ALTER TABLE work_item ADD COLUMN own TEXT;
ALTER TABLE release ADD COLUMN own TEXT;

-- Lists whose stages go deeper later: what is planned to be found out, documents of requirements, sprints, pages.
CREATE TABLE study (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  question TEXT,
  method TEXT,
  state TEXT,
  starts_on TEXT,
  ends_on TEXT,
  note TEXT,
  own TEXT
) STRICT;
CREATE INDEX study_product ON study(product_id);

CREATE TABLE document (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  state TEXT,
  body TEXT,
  own TEXT
) STRICT;
CREATE INDEX document_product ON document(product_id);

CREATE TABLE sprint (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  goal TEXT,
  starts_on TEXT,
  ends_on TEXT,
  capacity REAL,
  own TEXT
) STRICT;
CREATE INDEX sprint_product ON sprint(product_id);

CREATE TABLE page (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  parent_id INTEGER REFERENCES page(id),
  body TEXT,
  own TEXT
) STRICT;
CREATE INDEX page_product ON page(product_id);
CREATE INDEX page_parent ON page(parent_id);

CREATE TABLE field (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  collection TEXT NOT NULL,
  position REAL NOT NULL,
  label TEXT NOT NULL,
  definition TEXT NOT NULL,
  retired INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE view (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  collection TEXT NOT NULL,
  position REAL NOT NULL,
  name TEXT NOT NULL,
  owner_id INTEGER REFERENCES user(id),
  opens_first INTEGER NOT NULL DEFAULT 0,
  definition TEXT NOT NULL
) STRICT;
-- the views of a collection
CREATE INDEX view_collection ON view(product_id, collection);
CREATE INDEX view_owner ON view(owner_id) WHERE owner_id IS NOT NULL;

-- Files that fields hold. Their bytes stand in the workspace's one file, so that a backup has them; they are not in
-- the ledger, as they never change. What a row refers to is in the ledger.
CREATE TABLE attachment (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  name TEXT NOT NULL,
  media_type TEXT NOT NULL,
  bytes BLOB NOT NULL,
  user_id INTEGER REFERENCES user(id),
  made_at INTEGER NOT NULL
) STRICT;

-- Links by which other programs subscribe to a calendar. Only a hash of the key is kept; not in the ledger, as
-- keys have no history.
CREATE TABLE calendar_link (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  key_hash TEXT NOT NULL UNIQUE,
  view_id INTEGER NOT NULL REFERENCES view(id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES user(id) ON DELETE CASCADE,
  made_at INTEGER NOT NULL
) STRICT;
CREATE INDEX calendar_link_view ON calendar_link(view_id);

-- The words of things other than feedback, which has an index of its own. The row's number is the thing's number
-- times 64 and a place for each kind.
CREATE VIRTUAL TABLE thing_words USING fts5(
  kind UNINDEXED, thing_id UNINDEXED, title, body, tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3'
);
INSERT INTO thing_words(rowid, kind, thing_id, title, body)
  SELECT id * 64 + 1, 'finding', id, title, note FROM finding
  UNION ALL SELECT id * 64 + 2, 'person', id, name, NULL FROM person
  UNION ALL SELECT id * 64 + 3, 'account', id, name, segment FROM account
  UNION ALL SELECT id * 64 + 4, 'objective', id, title, measure FROM objective
  UNION ALL SELECT id * 64 + 5, 'idea', id, title, problem FROM idea
  UNION ALL SELECT id * 64 + 6, 'work_item', id, title, concat_ws(' ', as_a, i_want, so_that, note) FROM work_item
  UNION ALL SELECT id * 64 + 7, 'release', id, title, NULL FROM release
  UNION ALL SELECT id * 64 + 8, 'decision', id, reason, NULL FROM decision
  UNION ALL SELECT id * 64 + 9, 'result', id, measure, note FROM result
  UNION ALL SELECT id * 64 + 10, 'criterion', id, words, NULL FROM criterion;

CREATE TRIGGER words_finding_insert AFTER INSERT ON finding BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 1, 'finding', NEW.id, NEW.title, NEW.note);
END;
CREATE TRIGGER words_finding_update AFTER UPDATE OF title, note ON finding BEGIN
  UPDATE thing_words SET title = NEW.title, body = NEW.note WHERE rowid = NEW.id * 64 + 1;
END;
CREATE TRIGGER words_finding_delete AFTER DELETE ON finding BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 1;
END;
CREATE TRIGGER words_person_insert AFTER INSERT ON person BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 2, 'person', NEW.id, NEW.name, NULL);
END;
CREATE TRIGGER words_person_update AFTER UPDATE OF name ON person BEGIN
  UPDATE thing_words SET title = NEW.name, body = NULL WHERE rowid = NEW.id * 64 + 2;
END;
CREATE TRIGGER words_person_delete AFTER DELETE ON person BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 2;
END;
CREATE TRIGGER words_account_insert AFTER INSERT ON account BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 3, 'account', NEW.id, NEW.name, NEW.segment);
END;
CREATE TRIGGER words_account_update AFTER UPDATE OF name, segment ON account BEGIN
  UPDATE thing_words SET title = NEW.name, body = NEW.segment WHERE rowid = NEW.id * 64 + 3;
END;
CREATE TRIGGER words_account_delete AFTER DELETE ON account BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 3;
END;
CREATE TRIGGER words_objective_insert AFTER INSERT ON objective BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 4, 'objective', NEW.id, NEW.title, NEW.measure);
END;
CREATE TRIGGER words_objective_update AFTER UPDATE OF title, measure ON objective BEGIN
  UPDATE thing_words SET title = NEW.title, body = NEW.measure WHERE rowid = NEW.id * 64 + 4;
END;
CREATE TRIGGER words_objective_delete AFTER DELETE ON objective BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 4;
END;
CREATE TRIGGER words_idea_insert AFTER INSERT ON idea BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 5, 'idea', NEW.id, NEW.title, NEW.problem);
END;
CREATE TRIGGER words_idea_update AFTER UPDATE OF title, problem ON idea BEGIN
  UPDATE thing_words SET title = NEW.title, body = NEW.problem WHERE rowid = NEW.id * 64 + 5;
END;
CREATE TRIGGER words_idea_delete AFTER DELETE ON idea BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 5;
END;
CREATE TRIGGER words_work_item_insert AFTER INSERT ON work_item BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 6, 'work_item', NEW.id, NEW.title, concat_ws(' ', NEW.as_a, NEW.i_want, NEW.so_that, NEW.note));
END;
CREATE TRIGGER words_work_item_update AFTER UPDATE OF title, as_a, i_want, so_that, note ON work_item BEGIN
  UPDATE thing_words SET title = NEW.title, body = concat_ws(' ', NEW.as_a, NEW.i_want, NEW.so_that, NEW.note) WHERE rowid = NEW.id * 64 + 6;
END;
CREATE TRIGGER words_work_item_delete AFTER DELETE ON work_item BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 6;
END;
CREATE TRIGGER words_release_insert AFTER INSERT ON release BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 7, 'release', NEW.id, NEW.title, NULL);
END;
CREATE TRIGGER words_release_update AFTER UPDATE OF title ON release BEGIN
  UPDATE thing_words SET title = NEW.title, body = NULL WHERE rowid = NEW.id * 64 + 7;
END;
CREATE TRIGGER words_release_delete AFTER DELETE ON release BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 7;
END;
CREATE TRIGGER words_decision_insert AFTER INSERT ON decision BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 8, 'decision', NEW.id, NEW.reason, NULL);
END;
CREATE TRIGGER words_decision_update AFTER UPDATE OF reason ON decision BEGIN
  UPDATE thing_words SET title = NEW.reason, body = NULL WHERE rowid = NEW.id * 64 + 8;
END;
CREATE TRIGGER words_decision_delete AFTER DELETE ON decision BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 8;
END;
CREATE TRIGGER words_result_insert AFTER INSERT ON result BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 9, 'result', NEW.id, NEW.measure, NEW.note);
END;
CREATE TRIGGER words_result_update AFTER UPDATE OF measure, note ON result BEGIN
  UPDATE thing_words SET title = NEW.measure, body = NEW.note WHERE rowid = NEW.id * 64 + 9;
END;
CREATE TRIGGER words_result_delete AFTER DELETE ON result BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 9;
END;
CREATE TRIGGER words_criterion_insert AFTER INSERT ON criterion BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 10, 'criterion', NEW.id, NEW.words, NULL);
END;
CREATE TRIGGER words_criterion_update AFTER UPDATE OF words ON criterion BEGIN
  UPDATE thing_words SET title = NEW.words, body = NULL WHERE rowid = NEW.id * 64 + 10;
END;
CREATE TRIGGER words_criterion_delete AFTER DELETE ON criterion BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 10;
END;
CREATE TRIGGER words_study_insert AFTER INSERT ON study BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 11, 'study', NEW.id, NEW.title, concat_ws(' ', NEW.question, NEW.note));
END;
CREATE TRIGGER words_study_update AFTER UPDATE OF title, question, note ON study BEGIN
  UPDATE thing_words SET title = NEW.title, body = concat_ws(' ', NEW.question, NEW.note) WHERE rowid = NEW.id * 64 + 11;
END;
CREATE TRIGGER words_study_delete AFTER DELETE ON study BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 11;
END;
CREATE TRIGGER words_document_insert AFTER INSERT ON document BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 12, 'document', NEW.id, NEW.title, NEW.body);
END;
CREATE TRIGGER words_document_update AFTER UPDATE OF title, body ON document BEGIN
  UPDATE thing_words SET title = NEW.title, body = NEW.body WHERE rowid = NEW.id * 64 + 12;
END;
CREATE TRIGGER words_document_delete AFTER DELETE ON document BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 12;
END;
CREATE TRIGGER words_sprint_insert AFTER INSERT ON sprint BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 13, 'sprint', NEW.id, NEW.title, NEW.goal);
END;
CREATE TRIGGER words_sprint_update AFTER UPDATE OF title, goal ON sprint BEGIN
  UPDATE thing_words SET title = NEW.title, body = NEW.goal WHERE rowid = NEW.id * 64 + 13;
END;
CREATE TRIGGER words_sprint_delete AFTER DELETE ON sprint BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 13;
END;
CREATE TRIGGER words_page_insert AFTER INSERT ON page BEGIN
  INSERT INTO thing_words(rowid, kind, thing_id, title, body)
    VALUES (NEW.id * 64 + 14, 'page', NEW.id, NEW.title, NEW.body);
END;
CREATE TRIGGER words_page_update AFTER UPDATE OF title, body ON page BEGIN
  UPDATE thing_words SET title = NEW.title, body = NEW.body WHERE rowid = NEW.id * 64 + 14;
END;
CREATE TRIGGER words_page_delete AFTER DELETE ON page BEGIN
  DELETE FROM thing_words WHERE rowid = OLD.id * 64 + 14;
END;
