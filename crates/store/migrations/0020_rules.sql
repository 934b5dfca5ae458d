-- What runs by itself: when, if and then, as JSON.
CREATE TABLE rule (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  definition TEXT NOT NULL,
  runs INTEGER NOT NULL DEFAULT 0,
  by_id INTEGER REFERENCES user(id)
) STRICT;

-- What a rule did, or why it did not. `change_id` is the change that set it off, `set_id` the set that it wrote into.
CREATE TABLE rule_run (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  rule_id INTEGER NOT NULL,
  kind TEXT NOT NULL,
  row_id INTEGER NOT NULL,
  at INTEGER NOT NULL,
  day TEXT,
  change_id INTEGER,
  cause_set INTEGER,
  set_id INTEGER,
  outcome TEXT NOT NULL,
  words TEXT NOT NULL
) STRICT;
CREATE INDEX rule_run_rule ON rule_run(rule_id, id);
-- which rules wrote this set: the chain
CREATE INDEX rule_run_set ON rule_run(set_id) WHERE set_id IS NOT NULL;

-- The days on which rules looked for days that came, and up to which change.
CREATE TABLE rule_day (
  day TEXT PRIMARY KEY,
  change_id INTEGER NOT NULL
) STRICT;
