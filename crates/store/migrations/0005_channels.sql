-- Channels: places outside that are looked at again and again.
CREATE TABLE channel (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  product_id INTEGER NOT NULL REFERENCES product(id),
  name TEXT NOT NULL,
  kind TEXT NOT NULL,
  place TEXT NOT NULL,
  every_minutes INTEGER NOT NULL,
  covers INTEGER NOT NULL DEFAULT 0,
  paused INTEGER NOT NULL DEFAULT 0
) STRICT;
-- a name is one channel's: what comes through it has it as its source
CREATE UNIQUE INDEX channel_name ON channel(product_id, name COLLATE NOCASE);

-- How far a channel was read, and its key. No change of anything, so not in the ledger: what was taken back does not
-- come again by itself, and no key stands in a history.
CREATE TABLE channel_state (
  channel_id INTEGER PRIMARY KEY,
  cursor TEXT,
  secret TEXT,
  looked_at INTEGER,
  problem TEXT
) STRICT;
