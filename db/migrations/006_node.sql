CREATE TABLE IF NOT EXISTS node (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(64) NOT NULL UNIQUE,
  host VARCHAR(120) NOT NULL,
  pid INT UNSIGNED NOT NULL,
  session CHAR(36) NOT NULL COMMENT 'of the process that holds the name now',
  started_at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NOT NULL,
  stopped_at DATETIME(3) NULL COMMENT 'set when the process ended by itself'
) ENGINE=InnoDB
