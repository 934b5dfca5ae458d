-- Up to which change of the ledger people were told and rules were applied.
CREATE TABLE afterwards (
  one INTEGER PRIMARY KEY CHECK (one = 1),
  change_id INTEGER NOT NULL
) STRICT;
-- A workspace that was there before begins now: nobody is told of what is long past.
INSERT INTO afterwards SELECT 1, coalesce(max(id), 0) FROM change;

-- Who wants to hear of a thing, and from which change on. 0 where somebody said that they do not, so that it does not come back by itself.
CREATE TABLE follow (
  user_id INTEGER NOT NULL REFERENCES user(id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  row_id INTEGER NOT NULL,
  follows INTEGER NOT NULL,
  since_change INTEGER NOT NULL,
  PRIMARY KEY (user_id, kind, row_id)
) STRICT;
-- who follows this thing
CREATE INDEX follow_thing ON follow(kind, row_id);

-- What somebody is told. No change of a thing, so the ledger keeps none of it.
CREATE TABLE notice (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  user_id INTEGER NOT NULL REFERENCES user(id) ON DELETE CASCADE,
  at INTEGER NOT NULL,
  sort TEXT NOT NULL,
  kind TEXT NOT NULL,
  row_id INTEGER NOT NULL,
  comment_id INTEGER,
  by_name TEXT,
  words TEXT NOT NULL,
  times INTEGER NOT NULL DEFAULT 1,
  set_id INTEGER,
  read_at INTEGER
) STRICT;
CREATE INDEX notice_user ON notice(user_id, id);
CREATE INDEX notice_unread ON notice(user_id, kind, row_id) WHERE read_at IS NULL;
CREATE INDEX notice_set ON notice(set_id) WHERE set_id IS NOT NULL;

-- What somebody wants to hear of, and how; the product's own choice where nothing stands.
CREATE TABLE notice_setting (
  user_id INTEGER NOT NULL REFERENCES user(id) ON DELETE CASCADE,
  sort TEXT NOT NULL,
  here INTEGER NOT NULL,
  by_mail INTEGER NOT NULL,
  PRIMARY KEY (user_id, sort)
) STRICT;

-- The outbox. A message is marked before it goes out, so that it is never sent twice.
CREATE TABLE message (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  notice_id INTEGER NOT NULL,
  to_name TEXT NOT NULL,
  to_address TEXT NOT NULL,
  subject TEXT NOT NULL,
  body TEXT NOT NULL,
  path TEXT NOT NULL,
  state TEXT NOT NULL,
  tries INTEGER NOT NULL DEFAULT 0,
  made_at INTEGER NOT NULL,
  next_at INTEGER NOT NULL,
  ended_at INTEGER,
  problem TEXT
) STRICT;
-- what is to go out next
CREATE INDEX message_due ON message(state, next_at);

-- Where somebody was, and what was the newest change when the visit before ended.
CREATE TABLE visit (
  user_id INTEGER NOT NULL REFERENCES user(id) ON DELETE CASCADE,
  product_id INTEGER NOT NULL REFERENCES product(id) ON DELETE CASCADE,
  began_at INTEGER NOT NULL,
  seen_at INTEGER NOT NULL,
  seen_change INTEGER NOT NULL,
  before_at INTEGER,
  before_change INTEGER,
  places TEXT NOT NULL,
  PRIMARY KEY (user_id, product_id)
) STRICT;
