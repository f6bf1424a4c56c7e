ALTER TABLE task
  ADD COLUMN IF NOT EXISTS avoid_node_id INT UNSIGNED NULL COMMENT 'failed there: another node tries, if there is one'
