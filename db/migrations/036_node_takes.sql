ALTER TABLE node
  ADD COLUMN IF NOT EXISTS takes TINYINT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'by its own word: not paused, within its hours',
  ADD COLUMN IF NOT EXISTS memory_mb INT UNSIGNED NULL COMMENT 'a renderer that uses more is killed; NULL is no limit'
