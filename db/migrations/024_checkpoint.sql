CREATE TABLE IF NOT EXISTS checkpoint (
  sequence_id INT UNSIGNED NOT NULL COMMENT 'beauty sequence of the camera',
  frame INT NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  modified_ms DOUBLE NOT NULL,
  samples INT UNSIGNED NOT NULL,
  share DOUBLE NOT NULL COMMENT 'of what was asked, 0 to 1',
  seconds DOUBLE NOT NULL COMMENT 'render seconds that went into it',
  node VARCHAR(64) NOT NULL,
  look JSON NOT NULL,
  effort JSON NOT NULL,
  layers TINYINT UNSIGNED NOT NULL,
  cover TINYINT UNSIGNED NOT NULL,
  PRIMARY KEY (sequence_id, frame),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB
