ALTER TABLE finding
  MODIFY COLUMN source ENUM('check', 'node', 'person', 'odd') NOT NULL COMMENT 'odd: a person judged what the measures say',
  ADD COLUMN IF NOT EXISTS why VARCHAR(500) NULL COMMENT 'reason of who dismissed it, NULL: none'
