-- What follows from links, excerpts and items, side by side, so that pictures and lists of much need not go from row to row. Kept
-- by triggers, so it is true in every transaction; `iron-kite verify` compares. The ledger keeps none of it.

-- The excerpts behind each finding, with what is counted of them.
CREATE TABLE behind (
  finding_id INTEGER NOT NULL,
  excerpt_id INTEGER NOT NULL,
  item_id INTEGER NOT NULL,
  person_id INTEGER,
  account_id INTEGER,
  source_id INTEGER NOT NULL,
  said_on TEXT,
  kind TEXT NOT NULL,
  sentiment REAL NOT NULL,
  PRIMARY KEY (finding_id, excerpt_id)
) STRICT, WITHOUT ROWID;
INSERT INTO behind(finding_id, excerpt_id, item_id, person_id, account_id, source_id, said_on, kind, sentiment)
  SELECT l.to_id, e.id, i.id, i.person_id, i.account_id, i.source_id, i.said_on, e.kind, e.sentiment
  FROM link l JOIN excerpt e ON e.id = l.from_id JOIN feedback_item i ON i.id = e.item_id
  WHERE l.kind = 'supports' AND l.from_kind = 'excerpt' AND l.to_kind = 'finding';
-- "which people and accounts, and when", each from its index alone
CREATE INDEX behind_person ON behind(finding_id, person_id);
CREATE INDEX behind_account ON behind(finding_id, account_id);
CREATE INDEX behind_said ON behind(finding_id, said_on);
-- "where does this excerpt stand", when it changes
CREATE INDEX behind_excerpt ON behind(excerpt_id);

CREATE TRIGGER behind_link_insert AFTER INSERT ON link
WHEN NEW.kind = 'supports' AND NEW.from_kind = 'excerpt' AND NEW.to_kind = 'finding' BEGIN
  INSERT INTO behind(finding_id, excerpt_id, item_id, person_id, account_id, source_id, said_on, kind, sentiment)
    SELECT NEW.to_id, e.id, i.id, i.person_id, i.account_id, i.source_id, i.said_on, e.kind, e.sentiment
    FROM excerpt e JOIN feedback_item i ON i.id = e.item_id WHERE e.id = NEW.from_id;
END;
CREATE TRIGGER behind_link_delete AFTER DELETE ON link
WHEN OLD.kind = 'supports' AND OLD.from_kind = 'excerpt' AND OLD.to_kind = 'finding' BEGIN
  DELETE FROM behind WHERE finding_id = OLD.to_id AND excerpt_id = OLD.from_id;
END;
-- Ends of a link are never changed: another one is made.
CREATE TRIGGER behind_link_update BEFORE UPDATE OF kind, from_kind, from_id, to_kind, to_id ON link
WHEN (NEW.kind, NEW.from_kind, NEW.from_id, NEW.to_kind, NEW.to_id) IS NOT (OLD.kind, OLD.from_kind, OLD.from_id, OLD.to_kind, OLD.to_id) BEGIN
  SELECT RAISE(ABORT, 'the ends of a link cannot be changed');
END;
CREATE TRIGGER behind_excerpt_insert AFTER INSERT ON excerpt BEGIN
  INSERT INTO behind(finding_id, excerpt_id, item_id, person_id, account_id, source_id, said_on, kind, sentiment)
    SELECT l.to_id, NEW.id, i.id, i.person_id, i.account_id, i.source_id, i.said_on, NEW.kind, NEW.sentiment
    FROM link l JOIN feedback_item i ON i.id = NEW.item_id
    WHERE l.from_kind = 'excerpt' AND l.from_id = NEW.id AND l.kind = 'supports' AND l.to_kind = 'finding';
END;
CREATE TRIGGER behind_excerpt_delete AFTER DELETE ON excerpt BEGIN
  DELETE FROM behind WHERE excerpt_id = OLD.id;
END;
CREATE TRIGGER behind_excerpt_update AFTER UPDATE OF kind, sentiment ON excerpt BEGIN
  UPDATE behind SET kind = NEW.kind, sentiment = NEW.sentiment WHERE excerpt_id = NEW.id;
END;
CREATE TRIGGER behind_item_update AFTER UPDATE OF person_id, account_id, source_id, said_on ON feedback_item BEGIN
  UPDATE behind SET person_id = NEW.person_id, account_id = NEW.account_id, source_id = NEW.source_id, said_on = NEW.said_on
    WHERE excerpt_id IN (SELECT id FROM excerpt WHERE item_id = NEW.id);
END;

-- What is counted most often of a finding, added up: excerpts, distinct people and accounts, sides, how far below zero, kinds.
CREATE TABLE heard (
  finding_id INTEGER PRIMARY KEY,
  excerpts INTEGER NOT NULL DEFAULT 0,
  people INTEGER NOT NULL DEFAULT 0,
  accounts INTEGER NOT NULL DEFAULT 0,
  against INTEGER NOT NULL DEFAULT 0,
  neutral INTEGER NOT NULL DEFAULT 0,
  for_it INTEGER NOT NULL DEFAULT 0,
  negative REAL NOT NULL DEFAULT 0,
  request INTEGER NOT NULL DEFAULT 0,
  defect INTEGER NOT NULL DEFAULT 0,
  friction INTEGER NOT NULL DEFAULT 0,
  help_needed INTEGER NOT NULL DEFAULT 0,
  praise INTEGER NOT NULL DEFAULT 0,
  habit INTEGER NOT NULL DEFAULT 0,
  leaving INTEGER NOT NULL DEFAULT 0
) STRICT;
INSERT INTO heard
  SELECT finding_id, count(*), count(DISTINCT person_id), count(DISTINCT account_id), sum(sentiment <= -0.15),
    sum(abs(sentiment) < 0.15), sum(sentiment >= 0.15), total(max(0.0, -sentiment)),
    sum(kind = 'request'), sum(kind = 'defect'), sum(kind = 'friction'), sum(kind = 'help_needed'), sum(kind = 'praise'), sum(kind = 'habit'), sum(kind = 'leaving')
  FROM behind GROUP BY finding_id;
CREATE TRIGGER heard_insert AFTER INSERT ON behind BEGIN
  INSERT OR IGNORE INTO heard(finding_id) VALUES (NEW.finding_id);
  UPDATE heard SET excerpts = excerpts + 1, against = against + (NEW.sentiment <= -0.15), neutral = neutral + (abs(NEW.sentiment) < 0.15), for_it = for_it + (NEW.sentiment >= 0.15), negative = negative + max(0.0, -NEW.sentiment),
    request = request + (NEW.kind = 'request'), defect = defect + (NEW.kind = 'defect'), friction = friction + (NEW.kind = 'friction'), help_needed = help_needed + (NEW.kind = 'help_needed'), praise = praise + (NEW.kind = 'praise'), habit = habit + (NEW.kind = 'habit'), leaving = leaving + (NEW.kind = 'leaving'),
    people = people + (NEW.person_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM behind b WHERE b.finding_id = NEW.finding_id AND b.person_id = NEW.person_id AND b.excerpt_id <> NEW.excerpt_id)),
    accounts = accounts + (NEW.account_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM behind b WHERE b.finding_id = NEW.finding_id AND b.account_id = NEW.account_id AND b.excerpt_id <> NEW.excerpt_id))
    WHERE finding_id = NEW.finding_id;
END;
CREATE TRIGGER heard_delete AFTER DELETE ON behind BEGIN
  UPDATE heard SET excerpts = excerpts - 1, against = against - (OLD.sentiment <= -0.15), neutral = neutral - (abs(OLD.sentiment) < 0.15), for_it = for_it - (OLD.sentiment >= 0.15), negative = negative - max(0.0, -OLD.sentiment),
    request = request - (OLD.kind = 'request'), defect = defect - (OLD.kind = 'defect'), friction = friction - (OLD.kind = 'friction'), help_needed = help_needed - (OLD.kind = 'help_needed'), praise = praise - (OLD.kind = 'praise'), habit = habit - (OLD.kind = 'habit'), leaving = leaving - (OLD.kind = 'leaving'),
    people = people - (OLD.person_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM behind b WHERE b.finding_id = OLD.finding_id AND b.person_id = OLD.person_id AND b.excerpt_id <> OLD.excerpt_id)),
    accounts = accounts - (OLD.account_id IS NOT NULL AND NOT EXISTS (SELECT 1 FROM behind b WHERE b.finding_id = OLD.finding_id AND b.account_id = OLD.account_id AND b.excerpt_id <> OLD.excerpt_id))
    WHERE finding_id = OLD.finding_id;
END;
CREATE TRIGGER heard_told AFTER UPDATE OF kind, sentiment ON behind BEGIN
  UPDATE heard SET excerpts = excerpts - 1, against = against - (OLD.sentiment <= -0.15), neutral = neutral - (abs(OLD.sentiment) < 0.15), for_it = for_it - (OLD.sentiment >= 0.15), negative = negative - max(0.0, -OLD.sentiment),
    request = request - (OLD.kind = 'request'), defect = defect - (OLD.kind = 'defect'), friction = friction - (OLD.kind = 'friction'), help_needed = help_needed - (OLD.kind = 'help_needed'), praise = praise - (OLD.kind = 'praise'), habit = habit - (OLD.kind = 'habit'), leaving = leaving - (OLD.kind = 'leaving') WHERE finding_id = OLD.finding_id;
  UPDATE heard SET excerpts = excerpts + 1, against = against + (NEW.sentiment <= -0.15), neutral = neutral + (abs(NEW.sentiment) < 0.15), for_it = for_it + (NEW.sentiment >= 0.15), negative = negative + max(0.0, -NEW.sentiment),
    request = request + (NEW.kind = 'request'), defect = defect + (NEW.kind = 'defect'), friction = friction + (NEW.kind = 'friction'), help_needed = help_needed + (NEW.kind = 'help_needed'), praise = praise + (NEW.kind = 'praise'), habit = habit + (NEW.kind = 'habit'), leaving = leaving + (NEW.kind = 'leaving') WHERE finding_id = NEW.finding_id;
END;
CREATE TRIGGER heard_who AFTER UPDATE OF person_id, account_id ON behind BEGIN
  UPDATE heard SET people = (SELECT count(DISTINCT b.person_id) FROM behind b WHERE b.finding_id = NEW.finding_id),
    accounts = (SELECT count(DISTINCT b.account_id) FROM behind b WHERE b.finding_id = NEW.finding_id)
    WHERE finding_id = NEW.finding_id;
END;

-- How much was said of a product by each source, for each account (0 for none), on each day (empty for none). Against, neutral
-- and for are those of core's `listen::volume`; a test compares.
CREATE TABLE said (
  product_id INTEGER NOT NULL,
  source_id INTEGER NOT NULL,
  account_id INTEGER NOT NULL,
  said_on TEXT NOT NULL,
  items INTEGER NOT NULL DEFAULT 0,
  excerpts INTEGER NOT NULL DEFAULT 0,
  against INTEGER NOT NULL DEFAULT 0,
  neutral INTEGER NOT NULL DEFAULT 0,
  for_it INTEGER NOT NULL DEFAULT 0,
  sum REAL NOT NULL DEFAULT 0,
  PRIMARY KEY (product_id, source_id, account_id, said_on)
) STRICT, WITHOUT ROWID;
INSERT INTO said(product_id, source_id, account_id, said_on, items, excerpts, against, neutral, for_it, sum)
  SELECT i.product_id, i.source_id, COALESCE(i.account_id, 0), COALESCE(i.said_on, ''), count(DISTINCT i.id), count(e.id),
    COALESCE(sum(e.sentiment <= -0.15), 0), COALESCE(sum(abs(e.sentiment) < 0.15), 0), COALESCE(sum(e.sentiment >= 0.15), 0),
    total(e.sentiment)
  FROM feedback_item i LEFT JOIN excerpt e ON e.item_id = i.id GROUP BY 1, 2, 3, 4;

CREATE TRIGGER said_item_insert AFTER INSERT ON feedback_item BEGIN
  INSERT OR IGNORE INTO said(product_id, source_id, account_id, said_on)
    VALUES (NEW.product_id, NEW.source_id, COALESCE(NEW.account_id, 0), COALESCE(NEW.said_on, ''));
  UPDATE said SET items = items + 1 WHERE product_id = NEW.product_id AND source_id = NEW.source_id AND account_id = COALESCE(NEW.account_id, 0) AND said_on = COALESCE(NEW.said_on, '');
END;
CREATE TRIGGER said_item_delete AFTER DELETE ON feedback_item BEGIN
  UPDATE said SET items = items - 1 WHERE product_id = OLD.product_id AND source_id = OLD.source_id AND account_id = COALESCE(OLD.account_id, 0) AND said_on = COALESCE(OLD.said_on, '');
END;
CREATE TRIGGER said_item_update AFTER UPDATE OF product_id, source_id, account_id, said_on ON feedback_item BEGIN
  INSERT OR IGNORE INTO said(product_id, source_id, account_id, said_on)
    VALUES (NEW.product_id, NEW.source_id, COALESCE(NEW.account_id, 0), COALESCE(NEW.said_on, ''));
  UPDATE said SET items = items - 1, excerpts = excerpts - (SELECT count(*) FROM excerpt e WHERE e.item_id = OLD.id), against = against - (SELECT COALESCE(sum(e.sentiment <= -0.15), 0) FROM excerpt e WHERE e.item_id = OLD.id), neutral = neutral - (SELECT COALESCE(sum(abs(e.sentiment) < 0.15), 0) FROM excerpt e WHERE e.item_id = OLD.id), for_it = for_it - (SELECT COALESCE(sum(e.sentiment >= 0.15), 0) FROM excerpt e WHERE e.item_id = OLD.id), sum = sum - (SELECT total(e.sentiment) FROM excerpt e WHERE e.item_id = OLD.id)
    WHERE product_id = OLD.product_id AND source_id = OLD.source_id AND account_id = COALESCE(OLD.account_id, 0) AND said_on = COALESCE(OLD.said_on, '');
  UPDATE said SET items = items + 1, excerpts = excerpts + (SELECT count(*) FROM excerpt e WHERE e.item_id = NEW.id), against = against + (SELECT COALESCE(sum(e.sentiment <= -0.15), 0) FROM excerpt e WHERE e.item_id = NEW.id), neutral = neutral + (SELECT COALESCE(sum(abs(e.sentiment) < 0.15), 0) FROM excerpt e WHERE e.item_id = NEW.id), for_it = for_it + (SELECT COALESCE(sum(e.sentiment >= 0.15), 0) FROM excerpt e WHERE e.item_id = NEW.id), sum = sum + (SELECT total(e.sentiment) FROM excerpt e WHERE e.item_id = NEW.id)
    WHERE product_id = NEW.product_id AND source_id = NEW.source_id AND account_id = COALESCE(NEW.account_id, 0) AND said_on = COALESCE(NEW.said_on, '');
END;
CREATE TRIGGER said_excerpt_insert AFTER INSERT ON excerpt BEGIN
  UPDATE said SET excerpts = excerpts + 1, against = against + (NEW.sentiment <= -0.15), neutral = neutral + (abs(NEW.sentiment) < 0.15), for_it = for_it + (NEW.sentiment >= 0.15), sum = sum + NEW.sentiment
    WHERE (product_id, source_id, account_id, said_on) = (SELECT i.product_id, i.source_id, COALESCE(i.account_id, 0), COALESCE(i.said_on, '') FROM feedback_item i WHERE i.id = NEW.item_id);
END;
CREATE TRIGGER said_excerpt_delete AFTER DELETE ON excerpt BEGIN
  UPDATE said SET excerpts = excerpts - 1, against = against - (OLD.sentiment <= -0.15), neutral = neutral - (abs(OLD.sentiment) < 0.15), for_it = for_it - (OLD.sentiment >= 0.15), sum = sum - OLD.sentiment
    WHERE (product_id, source_id, account_id, said_on) = (SELECT i.product_id, i.source_id, COALESCE(i.account_id, 0), COALESCE(i.said_on, '') FROM feedback_item i WHERE i.id = OLD.item_id);
END;
CREATE TRIGGER said_excerpt_update AFTER UPDATE OF sentiment ON excerpt WHEN NEW.sentiment <> OLD.sentiment BEGIN
  UPDATE said SET excerpts = excerpts - 1, against = against - (OLD.sentiment <= -0.15), neutral = neutral - (abs(OLD.sentiment) < 0.15), for_it = for_it - (OLD.sentiment >= 0.15), sum = sum - OLD.sentiment
    WHERE (product_id, source_id, account_id, said_on) = (SELECT i.product_id, i.source_id, COALESCE(i.account_id, 0), COALESCE(i.said_on, '') FROM feedback_item i WHERE i.id = OLD.item_id);
  UPDATE said SET excerpts = excerpts + 1, against = against + (NEW.sentiment <= -0.15), neutral = neutral + (abs(NEW.sentiment) < 0.15), for_it = for_it + (NEW.sentiment >= 0.15), sum = sum + NEW.sentiment
    WHERE (product_id, source_id, account_id, said_on) = (SELECT i.product_id, i.source_id, COALESCE(i.account_id, 0), COALESCE(i.said_on, '') FROM feedback_item i WHERE i.id = NEW.item_id);
END;
