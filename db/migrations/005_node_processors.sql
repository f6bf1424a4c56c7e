-- Nodes of one machine share its processors: estimates count them once.
ALTER TABLE node
  ADD COLUMN IF NOT EXISTS processors SMALLINT UNSIGNED NULL COMMENT 'of its machine, NULL: registered before it was asked';
