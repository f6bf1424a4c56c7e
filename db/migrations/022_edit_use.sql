CREATE TABLE IF NOT EXISTS edit_use (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  edit_name VARCHAR(200) NOT NULL,
  frames MEDIUMTEXT NOT NULL COMMENT 'phrase of the scene frames that the edit shows',
  previous_frames MEDIUMTEXT NULL COMMENT 'the same of the edit before',
  imported_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY (shot_id),
  FOREIGN KEY (shot_id) REFERENCES shot (id)
) ENGINE=InnoDB
