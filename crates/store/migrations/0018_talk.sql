-- Who belongs to a team, so that a team can be spoken to.
CREATE TABLE membership (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  team_id INTEGER NOT NULL REFERENCES team(id),
  user_id INTEGER NOT NULL REFERENCES user(id)
) STRICT;
CREATE UNIQUE INDEX membership_once ON membership(team_id, user_id);
CREATE INDEX membership_user ON membership(user_id);

-- What somebody says of a thing, or of words in it. Nobody's where a rule wrote it. `words` with what stood around them is how
-- they were when they were chosen; where they stand now follows from that and from every change of the text, and is not
-- known where they are lost; what stands around them there is how they are found again where a text comes back.
CREATE TABLE comment (
  id INTEGER PRIMARY KEY AUTOINCREMENT, rev INTEGER NOT NULL DEFAULT 1,
  on_kind TEXT NOT NULL,
  on_id INTEGER NOT NULL,
  reply_to INTEGER REFERENCES comment(id),
  body TEXT NOT NULL,
  by_id INTEGER REFERENCES user(id),
  written_at INTEGER NOT NULL,
  edited_at INTEGER,
  resolved_by INTEGER REFERENCES user(id),
  resolved_at INTEGER,
  field TEXT,
  words TEXT,
  words_before TEXT,
  words_after TEXT,
  from_char INTEGER,
  to_char INTEGER,
  near_before TEXT,
  near_after TEXT
) STRICT;
-- the talk about one thing
CREATE INDEX comment_on ON comment(on_kind, on_id, id);
CREATE INDEX comment_answers ON comment(reply_to) WHERE reply_to IS NOT NULL;

-- The history of a thing tells of its links and of its parts, too.
CREATE INDEX change_link_from ON change(coalesce(after, before) ->> 'from_kind', coalesce(after, before) ->> 'from_id', id)
  WHERE kind = 'link';
CREATE INDEX change_link_to ON change(coalesce(after, before) ->> 'to_kind', coalesce(after, before) ->> 'to_id', id)
  WHERE kind = 'link';
CREATE INDEX change_criterion ON change(coalesce(after, before) ->> 'story_id', id) WHERE kind = 'criterion';
CREATE INDEX change_estimate ON change(coalesce(after, before) ->> 'idea_id', id) WHERE kind = 'estimate';
CREATE INDEX change_decision ON change(coalesce(after, before) ->> 'idea_id', id) WHERE kind = 'decision';
CREATE INDEX change_measurement ON change(coalesce(after, before) ->> 'objective_id', id) WHERE kind = 'measurement';
CREATE INDEX change_comment ON change(coalesce(after, before) ->> 'on_kind', coalesce(after, before) ->> 'on_id', id)
  WHERE kind = 'comment';
