CREATE TABLE IF NOT EXISTS version (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  purpose ENUM('final', 'rough') NOT NULL DEFAULT 'final',
  status ENUM('open', 'chosen', 'retired') NOT NULL DEFAULT 'open',
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY (shot_id, number),
  FOREIGN KEY (shot_id) REFERENCES shot (id)
) ENGINE=InnoDB
