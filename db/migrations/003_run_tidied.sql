-- What housekeeping removed of a run that ended long ago: its counts stay as they were.
ALTER TABLE run
  ADD COLUMN IF NOT EXISTS tidied_at DATETIME(3) NULL COMMENT 'attempts or tasks of it were removed',
  ADD COLUMN IF NOT EXISTS done_removed INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'frames that it made whose tasks were removed',
  ADD COLUMN IF NOT EXISTS lights_removed INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'the same of gathered light';
