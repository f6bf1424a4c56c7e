CREATE TABLE IF NOT EXISTS node_aside (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  node_id INT UNSIGNED NOT NULL,
  run_id INT UNSIGNED NULL COMMENT 'NULL: it takes frames of no run',
  reason JSON NOT NULL,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  let_in_at DATETIME(3) NULL COMMENT 'set when somebody, or the node itself, let it in again',
  KEY open_of_node (node_id, let_in_at),
  KEY open_ones (let_in_at),
  FOREIGN KEY (node_id) REFERENCES node (id),
  FOREIGN KEY (run_id) REFERENCES run (id)
) ENGINE=InnoDB
