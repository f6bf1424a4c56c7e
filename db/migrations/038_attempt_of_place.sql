ALTER TABLE attempt
  ADD COLUMN IF NOT EXISTS of_place TINYINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'failed for what its node saw of the files: blames neither frame nor scene'
