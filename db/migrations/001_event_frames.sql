-- Which frames an event is about: what became of them travels to open pages instead of the whole tally.
ALTER TABLE event
  ADD COLUMN IF NOT EXISTS first_frame INT NULL COMMENT 'with last_frame: no other frame has changed, NULL: any may have',
  ADD COLUMN IF NOT EXISTS last_frame INT NULL;
