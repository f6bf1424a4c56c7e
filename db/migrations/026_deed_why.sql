ALTER TABLE deed
  ADD COLUMN IF NOT EXISTS why VARCHAR(500) NULL COMMENT 'the reason that somebody gave, NULL: none';
