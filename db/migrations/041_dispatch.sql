CREATE TABLE IF NOT EXISTS dispatch (
  run_id INT UNSIGNED NOT NULL PRIMARY KEY,
  frames MEDIUMTEXT NULL COMMENT 'part of the run, as a phrase; NULL: all of it',
  part VARCHAR(64) NULL COMMENT 'partition; NULL: the usual one',
  minutes INT UNSIGNED NULL COMMENT 'that a frame may take',
  memory_mb INT UNSIGNED NULL COMMENT 'that a frame may take',
  sent_by VARCHAR(80) NULL,
  sent_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  again_at DATETIME(3) NULL COMMENT 'what came back is submitted again from then on',
  fault VARCHAR(500) NULL COMMENT 'why the batch system did not take it at the last look',
  FOREIGN KEY (run_id) REFERENCES run (id)
) ENGINE=InnoDB COMMENT 'runs whose frames a batch system hands to its machines'
