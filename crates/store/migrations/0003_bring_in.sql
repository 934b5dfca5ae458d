-- Bringing in what people give: files that wait for somebody to say what they are, work that runs in the background,
-- and what tells an item and a person from all others.

-- Which heading means what, by meaning, as JSON: remembered for the next file of the same source.
ALTER TABLE source ADD COLUMN mapping TEXT;
-- Whether what tells who somebody is (addresses, telephone, card and account numbers) is covered on the way in.
ALTER TABLE source ADD COLUMN covers INTEGER NOT NULL DEFAULT 0;

ALTER TABLE account ADD COLUMN plan TEXT;
ALTER TABLE person ADD COLUMN address TEXT COLLATE NOCASE;
-- an address is one person's
CREATE UNIQUE INDEX person_address ON person(address) WHERE address IS NOT NULL;

-- What the item's source knows it by, such as the number of a ticket.
ALTER TABLE feedback_item ADD COLUMN source_key TEXT;
-- Who speaks where, as JSON.
ALTER TABLE feedback_item ADD COLUMN turns TEXT;
-- the same row of a file that comes again
CREATE UNIQUE INDEX feedback_item_key ON feedback_item(source_id, source_key) WHERE source_key IS NOT NULL;

-- A file that was dropped and is not brought in yet. Not a change of anything, so not in the ledger.
CREATE TABLE incoming (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  product_id INTEGER NOT NULL REFERENCES product(id),
  user_id INTEGER REFERENCES user(id) ON DELETE SET NULL,
  name TEXT NOT NULL,
  bytes BLOB NOT NULL,
  at INTEGER NOT NULL
) STRICT;

-- Long work. `change_set_id` is what it wrote, so that it can be taken back as a whole.
CREATE TABLE job (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  product_id INTEGER REFERENCES product(id),
  user_id INTEGER REFERENCES user(id) ON DELETE SET NULL,
  label TEXT NOT NULL,
  work TEXT NOT NULL,
  state TEXT NOT NULL,
  done INTEGER NOT NULL DEFAULT 0,
  total INTEGER NOT NULL DEFAULT 0,
  change_set_id INTEGER,
  report TEXT,
  asked_at INTEGER NOT NULL,
  ended_at INTEGER
) STRICT;
-- the list of a product's jobs, newest first
CREATE INDEX job_product ON job(product_id, id DESC);
-- what is to be done next
CREATE INDEX job_state ON job(state) WHERE state IN ('queued', 'running');
