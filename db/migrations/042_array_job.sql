CREATE TABLE IF NOT EXISTS array_job (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  run_id INT UNSIGNED NOT NULL,
  sequence_id INT UNSIGNED NOT NULL COMMENT 'beauty sequence of the camera',
  kind VARCHAR(16) NOT NULL COMMENT 'of its tasks',
  job INT UNSIGNED NULL COMMENT 'as the batch system numbers it; NULL: it has not answered',
  shift INT NOT NULL COMMENT 'a frame less its index',
  waits INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'tasks, at the last look',
  held INT UNSIGNED NOT NULL DEFAULT 0,
  works INT UNSIGNED NOT NULL DEFAULT 0,
  reason VARCHAR(120) NULL COMMENT 'why they wait, in the batch system''s own word',
  submitted_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  ended TINYINT UNSIGNED NOT NULL DEFAULT 0,
  KEY of_run (run_id, ended),
  FOREIGN KEY (run_id) REFERENCES run (id),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB COMMENT 'what was given to the batch system'
