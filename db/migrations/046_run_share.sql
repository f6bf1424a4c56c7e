CREATE TABLE IF NOT EXISTS run_share (
  run_id INT UNSIGNED NOT NULL,
  machine VARCHAR(64) NOT NULL,
  frames MEDIUMTEXT NOT NULL COMMENT 'a phrase in plain numbers',
  taken_back_at DATETIME(3) NULL COMMENT 'its frames wait for that machine no more',
  PRIMARY KEY (run_id, machine),
  FOREIGN KEY (run_id) REFERENCES run (id)
) ENGINE=InnoDB
