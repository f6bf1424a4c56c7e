-- Whole files that are to be measured, by whichever node has time.
CREATE TABLE IF NOT EXISTS measure_task (
  sequence_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  content CHAR(64) NOT NULL COMMENT 'of the file as it was last seen',
  token CHAR(36) NULL COMMENT 'of its lease',
  lease_until DATETIME(6) NULL,
  PRIMARY KEY (sequence_id, frame),
  KEY next_one (lease_until),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB COMMENT 'a row goes when its file was measured'
