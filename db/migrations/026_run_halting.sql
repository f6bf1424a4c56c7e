ALTER TABLE run
  MODIFY COLUMN state ENUM('active', 'stopping', 'stopped', 'done', 'halting') NOT NULL DEFAULT 'active',
  MODIFY COLUMN policy ENUM('fill', 'mend', 'all', 'refine') NOT NULL
