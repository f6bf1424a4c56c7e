CREATE TABLE IF NOT EXISTS finding (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sequence_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  source ENUM('check', 'node', 'person') NOT NULL,
  code VARCHAR(32) NOT NULL,
  text VARCHAR(500) NOT NULL COMMENT 'what was found, or the reason a person gave',
  state ENUM('open', 'dismissed', 'fixed') NOT NULL DEFAULT 'open',
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  closed_at DATETIME(3) NULL,
  KEY of_sequence (sequence_id, state, frame),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB
