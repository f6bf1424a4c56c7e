-- Nodes, what is decided of them, and what they are asked to find out.

CREATE TABLE IF NOT EXISTS node (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(64) NOT NULL UNIQUE,
  host VARCHAR(120) NOT NULL,
  pid INT UNSIGNED NOT NULL,
  session CHAR(36) NOT NULL COMMENT 'of the process that holds the name now',
  started_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  stopped_at DATETIME(3) NULL COMMENT 'set when the process ended by itself',
  takes TINYINT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'by its own word: not paused, within its hours',
  pause ENUM('no', 'after-frame', 'now') NOT NULL DEFAULT 'no',
  cores TINYINT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'frames at once',
  nice TINYINT UNSIGNED NOT NULL DEFAULT 0,
  memory_mb INT UNSIGNED NULL COMMENT 'a renderer that uses more is killed, NULL is no limit',
  hours JSON NULL COMMENT 'when it may work, by its own clock'
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS node_request (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  node_id INT UNSIGNED NOT NULL,
  question JSON NOT NULL COMMENT 'what the node is asked to find out',
  answer JSON NULL,
  asked_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  answered_at DATETIME(3) NULL,
  KEY open_of_node (node_id, answered_at),
  FOREIGN KEY (node_id) REFERENCES node (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS setting (
  name VARCHAR(64) NOT NULL PRIMARY KEY,
  value VARCHAR(200) NOT NULL
) ENGINE=InnoDB COMMENT 'of the whole house';
