CREATE TABLE IF NOT EXISTS node_request (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  node_id INT UNSIGNED NOT NULL,
  question JSON NOT NULL COMMENT 'what the node is asked to find out',
  answer JSON NULL,
  asked_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  answered_at DATETIME(3) NULL,
  KEY open_of_node (node_id, answered_at),
  FOREIGN KEY (node_id) REFERENCES node (id)
) ENGINE=InnoDB
