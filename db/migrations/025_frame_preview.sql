CREATE TABLE IF NOT EXISTS frame_preview (
  task_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  sequence_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  made_at DATETIME(3) NOT NULL,
  jpeg MEDIUMBLOB NOT NULL,
  KEY (sequence_id, frame),
  FOREIGN KEY (task_id) REFERENCES task (id)
) ENGINE=InnoDB
