ALTER TABLE task
  ADD COLUMN IF NOT EXISTS put_back TINYINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'its holder is asked to save and give it back'
