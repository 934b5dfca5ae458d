-- Objectives in a tree, what was measured of them over time, and how much what serves them promises.
ALTER TABLE objective ADD COLUMN parent_id INTEGER REFERENCES objective(id);
ALTER TABLE objective ADD COLUMN starts_on TEXT;
-- nothing counts as 1
ALTER TABLE objective ADD COLUMN weight REAL;
ALTER TABLE objective ADD COLUMN state TEXT;
ALTER TABLE objective ADD COLUMN owner_id INTEGER REFERENCES user(id);
ALTER TABLE objective ADD COLUMN note TEXT;
CREATE INDEX objective_parent ON objective(parent_id);

CREATE TABLE measurement (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  objective_id INTEGER NOT NULL REFERENCES objective(id),
  taken_on TEXT NOT NULL,
  value REAL NOT NULL,
  note TEXT
) STRICT;
-- one a day, and the newest
CREATE UNIQUE INDEX measurement_day ON measurement(objective_id, taken_on);

-- Where an objective stands follows from what was measured of it. The ledger hears of it as of any other change.
INSERT INTO measurement(objective_id, taken_on, value)
  SELECT id, date('now'), present_value FROM objective WHERE present_value IS NOT NULL;
INSERT INTO change_set(at, way, label)
  SELECT unixepoch() * 1000, 'engine', 'where objectives stand became their first measurement'
  WHERE EXISTS (SELECT 1 FROM measurement);
INSERT INTO change(set_id, kind, row_id, before, after)
  SELECT (SELECT max(id) FROM change_set), 'measurement', m.id, NULL, json_object('id', m.id, 'objective_id', m.objective_id,
    'taken_on', m.taken_on, 'value', m.value, 'note', m.note) FROM measurement m ORDER BY m.id;
UPDATE change SET before = json_remove(before, '$.present_value'), after = json_remove(after, '$.present_value')
  WHERE kind = 'objective';
ALTER TABLE objective DROP COLUMN present_value;

-- How much of the way from an objective's start to its target what it asks for is to bring, 0 to 1.
ALTER TABLE link ADD COLUMN part REAL;

-- What is known of an objective's measure: what somebody noted, and what results say that measured the same on its ideas.
CREATE VIEW measured AS
  SELECT m.objective_id, m.taken_on, m.value, m.note, m.id AS measurement_id, NULL AS result_id FROM measurement m
  UNION ALL
  SELECT o.id, r.measured_on, r.after, r.note, NULL, max(r.id)
    FROM objective o
    JOIN link l ON l.from_kind = 'objective' AND l.from_id = o.id AND l.kind = 'asks_for' AND l.to_kind = 'idea'
    JOIN result r ON r.idea_id = l.to_id AND trim(r.measure) = trim(o.measure) COLLATE NOCASE
      AND COALESCE(trim(r.unit), '') = COALESCE(trim(o.unit), '') COLLATE NOCASE
    WHERE NOT EXISTS (SELECT 1 FROM measurement m WHERE m.objective_id = o.id AND m.taken_on = r.measured_on)
    -- of several of one day, the row of the newest
    GROUP BY o.id, r.measured_on;
