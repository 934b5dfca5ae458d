-- What it takes to take a set back: the rank of the right that its changes needed (0 read, 1 listen, 2 edit, 3 own). Sets from
-- before have none; then it follows from the kinds that they touched.
ALTER TABLE change_set ADD COLUMN needs INTEGER;

-- A key belongs to the place that asked for it, and is shown to no other.
ALTER TABLE channel_state ADD COLUMN secret_for TEXT;
UPDATE channel_state SET secret_for = (SELECT place FROM channel WHERE id = channel_id);

-- What must not stay half done where the program ends in the middle of it: done at the next start.
CREATE TABLE unfinished(id INTEGER PRIMARY KEY, what TEXT NOT NULL, told TEXT) STRICT;

-- Whether files are as they came is told by these (SHA-256, as hexadecimal digits). Files from before have none.
ALTER TABLE attachment ADD COLUMN digest TEXT;
ALTER TABLE incoming ADD COLUMN digest TEXT;

-- When a session began and was used last, and by what browser, for whoever looks where they are signed in.
ALTER TABLE session ADD COLUMN began_at INTEGER;
ALTER TABLE session ADD COLUMN seen_at INTEGER;
ALTER TABLE session ADD COLUMN browser TEXT;

-- An account that was closed: nobody signs in to it any more, and what was done stays that person's.
ALTER TABLE user ADD COLUMN closed INTEGER NOT NULL DEFAULT 0 CHECK (closed IN (0, 1));
