-- The meaning of words seen more closely, which grouping needs: 384 numbers of one byte, or nothing as long as nobody needed it.
ALTER TABLE meaning ADD COLUMN closer BLOB;
-- "which words were not looked at more closely yet"
CREATE INDEX meaning_far ON meaning(key) WHERE closer IS NULL;
