ALTER TABLE task
  ADD COLUMN IF NOT EXISTS reserved_node_id INT UNSIGNED NULL COMMENT 'waits as part of this node''s batch until not_before'
