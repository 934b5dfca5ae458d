-- The same person says the same again: the excerpt that said it first. The engine tells it, so it is in no ledger.
ALTER TABLE excerpt ADD COLUMN repeats_id INTEGER;
CREATE INDEX excerpt_repeats ON excerpt(repeats_id) WHERE repeats_id IS NOT NULL;

-- What stands behind each finding: of what somebody said several times the first that stands there.
CREATE VIEW standing_behind AS
  SELECT l.to_id AS finding_id, e.id AS excerpt_id, i.id AS item_id, i.person_id, i.account_id, i.source_id, i.said_on, e.kind, e.sentiment
  FROM link l JOIN excerpt e ON e.id = l.from_id JOIN feedback_item i ON i.id = e.item_id
  WHERE l.kind = 'supports' AND l.from_kind = 'excerpt' AND l.to_kind = 'finding'
    AND (e.repeats_id IS NULL OR NOT EXISTS (
      SELECT 1 FROM link b JOIN excerpt o ON o.id = b.from_id
      WHERE b.to_kind = 'finding' AND b.to_id = l.to_id AND b.kind = 'supports' AND b.from_kind = 'excerpt'
        AND b.from_id = e.repeats_id AND o.repeats_id IS NULL)
    AND NOT EXISTS (
      -- from the few that say the same to their links, not the other way round
      SELECT 1 FROM excerpt s CROSS JOIN link b ON b.from_kind = 'excerpt' AND b.from_id = s.id
      WHERE s.repeats_id = e.repeats_id AND s.id < e.id AND b.kind = 'supports' AND b.to_kind = 'finding' AND b.to_id = l.to_id));

DROP TRIGGER behind_link_insert;
CREATE TRIGGER behind_link_insert AFTER INSERT ON link
WHEN NEW.kind = 'supports' AND NEW.from_kind = 'excerpt' AND NEW.to_kind = 'finding' BEGIN
  INSERT INTO behind SELECT * FROM standing_behind WHERE finding_id = NEW.to_id AND excerpt_id = NEW.from_id;
  -- what was said later stood there in its place
  DELETE FROM behind WHERE finding_id = NEW.to_id AND excerpt_id IN
    (SELECT s.id FROM excerpt e JOIN excerpt s ON s.repeats_id = COALESCE(e.repeats_id, e.id)
      WHERE e.id = NEW.from_id AND s.id > e.id);
END;
DROP TRIGGER behind_link_delete;
CREATE TRIGGER behind_link_delete AFTER DELETE ON link
WHEN OLD.kind = 'supports' AND OLD.from_kind = 'excerpt' AND OLD.to_kind = 'finding' BEGIN
  DELETE FROM behind WHERE finding_id = OLD.to_id AND excerpt_id = OLD.from_id;
  INSERT OR IGNORE INTO behind SELECT * FROM standing_behind WHERE finding_id = OLD.to_id AND excerpt_id IN
    (SELECT s.id FROM excerpt s WHERE s.repeats_id = COALESCE((SELECT e.repeats_id FROM excerpt e WHERE e.id = OLD.from_id), OLD.from_id));
END;
DROP TRIGGER behind_excerpt_insert;
CREATE TRIGGER behind_excerpt_insert AFTER INSERT ON excerpt BEGIN
  INSERT INTO behind SELECT * FROM standing_behind WHERE excerpt_id = NEW.id;
  DELETE FROM behind WHERE finding_id IN (SELECT b.finding_id FROM behind b WHERE b.excerpt_id = NEW.id) AND excerpt_id IN
    (SELECT s.id FROM excerpt s WHERE s.repeats_id = COALESCE(NEW.repeats_id, NEW.id) AND s.id > NEW.id);
END;
DROP TRIGGER behind_excerpt_delete;
CREATE TRIGGER behind_excerpt_delete AFTER DELETE ON excerpt BEGIN
  DELETE FROM behind WHERE excerpt_id = OLD.id;
  INSERT OR IGNORE INTO behind SELECT * FROM standing_behind WHERE excerpt_id IN
    (SELECT s.id FROM excerpt s WHERE s.repeats_id = COALESCE(OLD.repeats_id, OLD.id));
END;
CREATE TRIGGER behind_excerpt_again AFTER UPDATE OF repeats_id ON excerpt WHEN NEW.repeats_id IS NOT OLD.repeats_id BEGIN
  DELETE FROM behind WHERE excerpt_id IN
    (SELECT s.id FROM excerpt s WHERE s.repeats_id IN (OLD.repeats_id, NEW.repeats_id, NEW.id) UNION SELECT NEW.id);
  INSERT OR IGNORE INTO behind SELECT * FROM standing_behind WHERE excerpt_id IN
    (SELECT s.id FROM excerpt s WHERE s.repeats_id IN (OLD.repeats_id, NEW.repeats_id, NEW.id) UNION SELECT NEW.id);
END;

-- In how many items a word stands: how much it says.
CREATE VIRTUAL TABLE feedback_vocabulary USING fts5vocab(feedback_words, row);
