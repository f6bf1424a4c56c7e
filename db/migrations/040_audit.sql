CREATE TABLE IF NOT EXISTS audit (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  who VARCHAR(80) NULL,
  role VARCHAR(16) NULL COMMENT 'of whoever signed in; NULL: the name was only given',
  did VARCHAR(120) NOT NULL COMMENT 'operation of the HTTP interface, or a word of its own',
  what VARCHAR(500) NOT NULL DEFAULT '' COMMENT 'address, or who it was about',
  status SMALLINT UNSIGNED NULL COMMENT 'of the answer; NULL: none was given yet',
  KEY by_time (at),
  KEY refused (did, who, at)
) ENGINE=InnoDB COMMENT 'what was asked for, by whom, and what came of it'
