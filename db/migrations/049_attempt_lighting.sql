ALTER TABLE attempt
  ADD COLUMN IF NOT EXISTS lighting_seconds DOUBLE NULL COMMENT 'spent on lighting caches that it made itself',
  ADD COLUMN IF NOT EXISTS lighting_made INT UNSIGNED NULL COMMENT 'lighting caches that it made itself'
