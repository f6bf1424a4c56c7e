CREATE TABLE IF NOT EXISTS person (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL UNIQUE,
  role ENUM('look', 'mark', 'run', 'keep-house') NOT NULL,
  key_hash VARCHAR(200) NOT NULL COMMENT 'scrypt, with its parameters and salt',
  made_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  made_by VARCHAR(80) NULL
) ENGINE=InnoDB COMMENT 'who may sign in where the pages are reached over a network'
