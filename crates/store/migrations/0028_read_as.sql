-- How somebody said that the parts of a waiting file are to be read, as JSON by their names.
ALTER TABLE incoming ADD COLUMN hows TEXT;
