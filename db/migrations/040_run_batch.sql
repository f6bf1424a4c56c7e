ALTER TABLE run
  ADD COLUMN IF NOT EXISTS batch SMALLINT UNSIGNED NULL COMMENT 'frames that a node takes at once; NULL is as measured'
