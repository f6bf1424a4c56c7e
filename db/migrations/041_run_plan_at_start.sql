ALTER TABLE run
  ADD COLUMN IF NOT EXISTS kept INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'frames of its wish that it left alone when it started',
  ADD COLUMN IF NOT EXISTS estimated_seconds DOUBLE NULL COMMENT 'likely length as it was estimated when it started; NULL: nothing was timed'
