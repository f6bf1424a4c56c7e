ALTER TABLE shot
  ADD COLUMN IF NOT EXISTS sound JSON NULL COMMENT 'file below the project and seconds by which it begins after the time line, NULL: none';
