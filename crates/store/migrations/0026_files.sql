-- The bytes of files stand in parts, each written by a write of its own: a large one keeps nobody else's writes waiting. What
-- no attachment and no waiting file holds was left half-way and is cleared away after a day.
CREATE TABLE file (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  user_id INTEGER REFERENCES user(id) ON DELETE SET NULL,
  length INTEGER NOT NULL,
  -- whether it is as it came (SHA-256, as hexadecimal digits); files from before 0024 have none
  digest TEXT,
  made_at INTEGER NOT NULL
) STRICT;
-- how much one person put in lately
CREATE INDEX file_by ON file(user_id, made_at);

CREATE TABLE file_part (
  file_id INTEGER NOT NULL REFERENCES file(id) ON DELETE CASCADE,
  begins INTEGER NOT NULL,
  bytes BLOB NOT NULL,
  PRIMARY KEY (file_id, begins)
) STRICT;

ALTER TABLE attachment ADD COLUMN file_id INTEGER REFERENCES file(id);
ALTER TABLE incoming ADD COLUMN file_id INTEGER REFERENCES file(id);
INSERT INTO file SELECT id, user_id, length(bytes), digest, made_at FROM attachment;
UPDATE attachment SET file_id = id;
-- those that wait come after them
INSERT INTO file
  SELECT id + (SELECT COALESCE(max(id), 0) FROM attachment), user_id, length(bytes), digest, at FROM incoming;
UPDATE incoming SET file_id = id + (SELECT COALESCE(max(id), 0) FROM attachment);
WITH RECURSIVE part(id, begins, length) AS (
  SELECT id, 0, length(bytes) FROM attachment
  UNION ALL SELECT id, begins + 262144, length FROM part WHERE begins + 262144 < length
)
INSERT INTO file_part
  SELECT h.file_id, p.begins, COALESCE(substr(h.bytes, p.begins + 1, 262144), x'') FROM part p JOIN attachment h ON h.id = p.id;
WITH RECURSIVE part(id, begins, length) AS (
  SELECT id, 0, length(bytes) FROM incoming
  UNION ALL SELECT id, begins + 262144, length FROM part WHERE begins + 262144 < length
)
INSERT INTO file_part
  SELECT h.file_id, p.begins, COALESCE(substr(h.bytes, p.begins + 1, 262144), x'') FROM part p JOIN incoming h ON h.id = p.id;

DROP INDEX attachment_by;
DROP INDEX incoming_by;
ALTER TABLE attachment DROP COLUMN bytes;
ALTER TABLE attachment DROP COLUMN digest;
ALTER TABLE incoming DROP COLUMN bytes;
ALTER TABLE incoming DROP COLUMN digest;
CREATE UNIQUE INDEX attachment_file ON attachment(file_id);
CREATE UNIQUE INDEX incoming_file ON incoming(file_id);

-- A file goes with what held it.
CREATE TRIGGER attachment_gone AFTER DELETE ON attachment BEGIN DELETE FROM file WHERE id = old.file_id; END;
CREATE TRIGGER incoming_gone AFTER DELETE ON incoming BEGIN DELETE FROM file WHERE id = old.file_id; END;
