-- What people said of what the engine had told: one row for each look.
CREATE TABLE checking (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  excerpt_id INTEGER NOT NULL REFERENCES excerpt(id) ON DELETE CASCADE,
  -- kind or finding
  about TEXT NOT NULL,
  -- unsure, chance or second
  way TEXT NOT NULL,
  told TEXT NOT NULL,
  said TEXT NOT NULL,
  user_id INTEGER NOT NULL REFERENCES user(id)
) STRICT;
-- "who has looked at this excerpt"
CREATE INDEX checking_excerpt ON checking(excerpt_id, about);
-- "what has this person not looked at yet"
CREATE INDEX checking_about ON checking(about, user_id);

-- "what is the engine least sure of"
CREATE INDEX excerpt_unsure ON excerpt(sure) WHERE chosen IS NULL AND sure IS NOT NULL;
CREATE INDEX link_unsure ON link(sure) WHERE sure IS NOT NULL;
-- "what comes by chance": multiplied by the golden part of 2^32, numbers in a row lie all over (Knuth, volume 3, 6.4).
CREATE INDEX excerpt_chance ON excerpt(id * 2654435761 % 4294967296) WHERE chosen IS NULL AND sure IS NOT NULL;
CREATE INDEX link_chance ON link(id * 2654435761 % 4294967296) WHERE sure IS NOT NULL;
