-- Studies: their guide, and what was said in them.

-- The questions as they are asked, as markdown.
ALTER TABLE study ADD COLUMN guide TEXT;

ALTER TABLE feedback_item ADD COLUMN study_id INTEGER REFERENCES study(id);
-- what was said in a study
CREATE INDEX feedback_item_study ON feedback_item(study_id) WHERE study_id IS NOT NULL;
