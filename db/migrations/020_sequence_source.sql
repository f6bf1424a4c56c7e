ALTER TABLE sequence
  ADD COLUMN IF NOT EXISTS source JSON NULL COMMENT 'root, folder, prefix, suffix and digits of files that something else makes, NULL: its own folder';
