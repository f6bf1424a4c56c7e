CREATE TABLE IF NOT EXISTS installed (
  one TINYINT UNSIGNED NOT NULL PRIMARY KEY DEFAULT 1 CHECK (one = 1),
  version VARCHAR(40) NOT NULL
) ENGINE=InnoDB COMMENT 'which version of the program the house runs: nodes of another one do not work with it';
