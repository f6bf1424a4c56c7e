ALTER TABLE task
  MODIFY COLUMN state ENUM('waiting', 'leased', 'done', 'failed', 'dropped') NOT NULL DEFAULT 'waiting'
