-- A row for each change, written in the transaction that makes it; pruned after a day.

CREATE TABLE IF NOT EXISTS event (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  kind VARCHAR(32) NOT NULL,
  sequence_id INT UNSIGNED NULL,
  run_id INT UNSIGNED NULL,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY (at)
) ENGINE=InnoDB;
