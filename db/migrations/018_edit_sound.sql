ALTER TABLE edit
  ADD COLUMN IF NOT EXISTS sound JSON NULL COMMENT 'array of names, first, end, starts; NULL: read before sound was kept';
