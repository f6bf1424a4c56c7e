CREATE TABLE IF NOT EXISTS deed (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  who VARCHAR(80) NULL COMMENT 'the name that somebody gave, NULL: none',
  did VARCHAR(32) NOT NULL,
  run_id INT UNSIGNED NULL,
  version_id INT UNSIGNED NULL,
  node_id INT UNSIGNED NULL COMMENT 'all three NULL: the whole house',
  KEY of_run (run_id, id),
  KEY of_version (version_id, id),
  KEY of_node (node_id, did, id),
  FOREIGN KEY (run_id) REFERENCES run (id) ON DELETE CASCADE,
  FOREIGN KEY (version_id) REFERENCES version (id) ON DELETE CASCADE,
  FOREIGN KEY (node_id) REFERENCES node (id) ON DELETE CASCADE
) ENGINE=InnoDB COMMENT 'what people did to runs, versions and nodes';
