ALTER TABLE node
  ADD COLUMN IF NOT EXISTS in_groups JSON NULL COMMENT 'names of groups, NULL is none'
