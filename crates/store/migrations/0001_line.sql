-- The tables of the whole line, from somebody's words to the result, and of what all stages share.
-- Every table that the ledger keeps has `id` and `rev`. Which values a column may hold is checked in
-- core, not here: lists of names grow.

CREATE TABLE user (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  email TEXT NOT NULL UNIQUE COLLATE NOCASE,
  name TEXT NOT NULL,
  role TEXT NOT NULL,
  password_hash TEXT
) STRICT;

-- Only a hash of the key is kept.
CREATE TABLE session (
  key_hash TEXT PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES user(id) ON DELETE CASCADE,
  ends_at INTEGER NOT NULL
) STRICT;

-- Every write, grouped: who, when, why and by what way.
CREATE TABLE change_set (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  at INTEGER NOT NULL,
  user_id INTEGER REFERENCES user(id),
  way TEXT NOT NULL,
  label TEXT NOT NULL,
  undoes INTEGER REFERENCES change_set(id),
  undone INTEGER NOT NULL DEFAULT 0
) STRICT;
-- "what can I undo": my newest set
CREATE INDEX change_set_user ON change_set(user_id, id);
-- "which set undid this one"
CREATE INDEX change_set_undoes ON change_set(undoes) WHERE undoes IS NOT NULL;

CREATE TABLE change (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  set_id INTEGER NOT NULL REFERENCES change_set(id),
  kind TEXT NOT NULL,
  row_id INTEGER NOT NULL,
  before TEXT,
  after TEXT
) STRICT;
-- the rows of one set, in their order
CREATE INDEX change_by_set ON change(set_id, id);
-- the history of one thing
CREATE INDEX change_by_row ON change(kind, row_id, id);

CREATE TABLE product (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  name TEXT NOT NULL
) STRICT;

CREATE TABLE team (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  name TEXT NOT NULL
) STRICT;

CREATE TABLE team_column (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  team_id INTEGER NOT NULL REFERENCES team(id),
  position REAL NOT NULL,
  title TEXT NOT NULL,
  state TEXT NOT NULL
) STRICT;
CREATE INDEX team_column_team ON team_column(team_id);

-- Listen
CREATE TABLE source (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  name TEXT NOT NULL,
  brought_on TEXT NOT NULL
) STRICT;
CREATE INDEX source_product ON source(product_id);

CREATE TABLE account (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  name TEXT NOT NULL UNIQUE COLLATE NOCASE,
  segment TEXT,
  yearly_revenue INTEGER
) STRICT;

CREATE TABLE person (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  name TEXT NOT NULL COLLATE NOCASE,
  account_id INTEGER REFERENCES account(id)
) STRICT;
-- one person for a name within an account; the import looks people up here
CREATE UNIQUE INDEX person_name ON person(name, COALESCE(account_id, 0));
CREATE INDEX person_account ON person(account_id);

CREATE TABLE feedback_item (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  source_id INTEGER NOT NULL REFERENCES source(id),
  text TEXT NOT NULL,
  said_on TEXT,
  person_id INTEGER REFERENCES person(id),
  account_id INTEGER REFERENCES account(id),
  rating REAL,
  extra TEXT,
  digest TEXT NOT NULL
) STRICT;
-- duplicates of an import
CREATE UNIQUE INDEX feedback_item_digest ON feedback_item(product_id, digest);
-- the list, newest first, by page
CREATE INDEX feedback_item_list ON feedback_item(product_id, COALESCE(said_on, '') DESC, id DESC);
CREATE INDEX feedback_item_source ON feedback_item(source_id);
CREATE INDEX feedback_item_person ON feedback_item(person_id);
CREATE INDEX feedback_item_account ON feedback_item(account_id);

CREATE VIRTUAL TABLE feedback_words USING fts5(
  text, content = 'feedback_item', content_rowid = 'id', tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3'
);
CREATE TRIGGER feedback_words_insert AFTER INSERT ON feedback_item BEGIN
  INSERT INTO feedback_words(rowid, text) VALUES (NEW.id, NEW.text);
END;
CREATE TRIGGER feedback_words_delete AFTER DELETE ON feedback_item BEGIN
  INSERT INTO feedback_words(feedback_words, rowid, text) VALUES ('delete', OLD.id, OLD.text);
END;
CREATE TRIGGER feedback_words_update AFTER UPDATE OF text ON feedback_item BEGIN
  INSERT INTO feedback_words(feedback_words, rowid, text) VALUES ('delete', OLD.id, OLD.text);
  INSERT INTO feedback_words(rowid, text) VALUES (NEW.id, NEW.text);
END;

-- Who has read which item. Not a change of the item, so not in the ledger.
CREATE TABLE reading (
  item_id INTEGER NOT NULL REFERENCES feedback_item(id) ON DELETE CASCADE,
  user_id INTEGER NOT NULL REFERENCES user(id) ON DELETE CASCADE,
  PRIMARY KEY (item_id, user_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE excerpt (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  item_id INTEGER NOT NULL REFERENCES feedback_item(id),
  from_char INTEGER NOT NULL,
  to_char INTEGER NOT NULL,
  kind TEXT NOT NULL,
  sentiment REAL NOT NULL
) STRICT;
CREATE INDEX excerpt_item ON excerpt(item_id);

CREATE TABLE finding (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  note TEXT
) STRICT;
CREATE INDEX finding_product ON finding(product_id);

-- Decide
CREATE TABLE objective (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  measure TEXT NOT NULL,
  unit TEXT,
  start_value REAL NOT NULL,
  target_value REAL NOT NULL,
  present_value REAL,
  due_on TEXT
) STRICT;
CREATE INDEX objective_product ON objective(product_id);

CREATE TABLE idea (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  problem TEXT,
  state TEXT NOT NULL,
  reach REAL,
  impact REAL,
  confidence REAL,
  effort REAL
) STRICT;
CREATE INDEX idea_product ON idea(product_id);

CREATE TABLE decision (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  idea_id INTEGER NOT NULL REFERENCES idea(id),
  outcome TEXT NOT NULL,
  reason TEXT NOT NULL,
  score REAL,
  decided_by INTEGER REFERENCES user(id),
  decided_on TEXT NOT NULL
) STRICT;
CREATE INDEX decision_idea ON decision(idea_id);

-- Map
CREATE TABLE activity (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  position REAL NOT NULL,
  title TEXT NOT NULL
) STRICT;
CREATE INDEX activity_product ON activity(product_id);

CREATE TABLE step (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  activity_id INTEGER NOT NULL REFERENCES activity(id),
  position REAL NOT NULL,
  title TEXT NOT NULL
) STRICT;
CREATE INDEX step_activity ON step(activity_id);

-- Plan
CREATE TABLE release (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  starts_on TEXT,
  ends_on TEXT,
  capacity REAL,
  state TEXT NOT NULL
) STRICT;
CREATE INDEX release_product ON release(product_id);

-- Specify
CREATE TABLE work_item (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  level TEXT NOT NULL,
  parent_id INTEGER REFERENCES work_item(id),
  position REAL NOT NULL,
  title TEXT NOT NULL,
  as_a TEXT,
  i_want TEXT,
  so_that TEXT,
  points REAL,
  moscow TEXT,
  note TEXT,
  state TEXT NOT NULL,
  team_id INTEGER REFERENCES team(id),
  column_id INTEGER REFERENCES team_column(id),
  release_id INTEGER REFERENCES release(id),
  step_id INTEGER REFERENCES step(id),
  map_position REAL NOT NULL,
  queue_position REAL NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX work_item_product ON work_item(product_id);
CREATE INDEX work_item_parent ON work_item(parent_id);
CREATE INDEX work_item_team ON work_item(team_id);
CREATE INDEX work_item_column ON work_item(column_id);
CREATE INDEX work_item_release ON work_item(release_id);
CREATE INDEX work_item_step ON work_item(step_id);

CREATE TABLE criterion (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  story_id INTEGER NOT NULL REFERENCES work_item(id),
  position REAL NOT NULL,
  words TEXT NOT NULL
) STRICT;
CREATE INDEX criterion_story ON criterion(story_id);

-- Learn
CREATE TABLE result (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  idea_id INTEGER NOT NULL REFERENCES idea(id),
  release_id INTEGER REFERENCES release(id),
  measure TEXT NOT NULL,
  unit TEXT,
  before REAL NOT NULL,
  after REAL NOT NULL,
  measured_on TEXT NOT NULL,
  note TEXT
) STRICT;
CREATE INDEX result_idea ON result(idea_id);
CREATE INDEX result_release ON result(release_id);

-- Trace: links have the direction of the line, from the words to the result.
CREATE TABLE link (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  kind TEXT NOT NULL,
  from_kind TEXT NOT NULL,
  from_id INTEGER NOT NULL,
  to_kind TEXT NOT NULL,
  to_id INTEGER NOT NULL
) STRICT;
-- downstream, and no link twice
CREATE UNIQUE INDEX link_down ON link(from_kind, from_id, kind, to_kind, to_id);
-- upstream
CREATE INDEX link_up ON link(to_kind, to_id, kind, from_kind, from_id);
