-- What scoring models ask of ideas beside reach, impact, confidence and effort.
ALTER TABLE idea ADD COLUMN value REAL;
ALTER TABLE idea ADD COLUMN time_criticality REAL;
ALTER TABLE idea ADD COLUMN opportunity REAL;
ALTER TABLE idea ADD COLUMN moscow TEXT;

-- What a team scores by. The definition is JSON; its revision is its version.
CREATE TABLE scoring_model (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  definition TEXT NOT NULL
) STRICT;
-- which model a product ranks by: the name of one that comes with it, or the number of one of its own
ALTER TABLE product ADD COLUMN model TEXT;

-- What somebody estimates of a field of an idea. Of the agreed one, the likely value is the field's own; here stand its ends,
-- who agreed on it, and why.
CREATE TABLE estimate (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  idea_id INTEGER NOT NULL REFERENCES idea(id),
  field TEXT NOT NULL,
  by_id INTEGER REFERENCES user(id),
  agreed INTEGER NOT NULL DEFAULT 0,
  low REAL NOT NULL,
  likely REAL NOT NULL,
  high REAL NOT NULL,
  reason TEXT
) STRICT;
CREATE UNIQUE INDEX estimate_own ON estimate(idea_id, field, by_id) WHERE agreed = 0;
CREATE UNIQUE INDEX estimate_agreed ON estimate(idea_id, field) WHERE agreed = 1;

-- What a decision rested on, as it was, and when to look at it again.
ALTER TABLE decision ADD COLUMN look_again_on TEXT;
ALTER TABLE decision ADD COLUMN frozen TEXT;

-- A prioritisation: its report follows the present numbers until it is agreed.
CREATE TABLE prioritisation (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  title TEXT NOT NULL,
  question TEXT,
  recommendation TEXT,
  model TEXT NOT NULL,
  top INTEGER NOT NULL,
  agreed_on TEXT,
  agreed_by INTEGER REFERENCES user(id),
  kept TEXT
) STRICT;
CREATE INDEX prioritisation_product ON prioritisation(product_id);
