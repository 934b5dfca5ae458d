-- The sound or the picture of a conversation, beside its words.
ALTER TABLE feedback_item ADD COLUMN recording INTEGER REFERENCES attachment(id);
