-- The day that a release went out in fact; of those that went out before this was kept, only the day that was planned is known.
ALTER TABLE release ADD COLUMN released_on TEXT;
