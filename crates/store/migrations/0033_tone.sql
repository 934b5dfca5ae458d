-- How words are said, beside what they mean: four numbers of one byte, or nothing where they were understood before that was heard.
ALTER TABLE meaning ADD COLUMN tone BLOB;
