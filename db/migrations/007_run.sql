CREATE TABLE IF NOT EXISTS run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sequence_id INT UNSIGNED NOT NULL,
  revision_id INT UNSIGNED NOT NULL,
  policy ENUM('fill', 'mend', 'all') NOT NULL,
  wanted MEDIUMTEXT NOT NULL COMMENT 'the phrase that was asked for',
  state ENUM('active', 'stopping', 'stopped', 'done') NOT NULL DEFAULT 'active',
  nodes JSON NULL COMMENT 'names of nodes that may take part; NULL is all',
  scene_folder VARCHAR(255) NOT NULL COMMENT 'frozen scene, relative to the version folder',
  sources JSON NOT NULL COMMENT 'what the look fingerprint is made from',
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  ended_at DATETIME(3) NULL,
  KEY (state),
  KEY (sequence_id),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id),
  FOREIGN KEY (revision_id) REFERENCES plan_revision (id)
) ENGINE=InnoDB
