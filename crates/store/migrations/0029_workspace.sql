-- Links by which somebody sets a password once: who is new, and who has lost theirs. Only a hash of the key is kept.
CREATE TABLE once_link (
  key_hash TEXT PRIMARY KEY,
  user_id INTEGER NOT NULL REFERENCES user(id) ON DELETE CASCADE,
  ends_at INTEGER NOT NULL
) STRICT;
CREATE INDEX once_link_user ON once_link(user_id);

-- Keys by which programs ask on somebody's behalf, with no more than a role; each can be ended.
CREATE TABLE token (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  key_hash TEXT NOT NULL UNIQUE,
  user_id INTEGER NOT NULL REFERENCES user(id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  role TEXT NOT NULL,
  made_at INTEGER NOT NULL,
  used_at INTEGER
) STRICT;
CREATE INDEX token_user ON token(user_id);
