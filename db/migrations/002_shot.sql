CREATE TABLE IF NOT EXISTS shot (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  code VARCHAR(32) NOT NULL,
  title VARCHAR(120) NOT NULL,
  first_frame INT NOT NULL COMMENT 'of the time line',
  last_frame INT NOT NULL,
  markers JSON NOT NULL COMMENT 'array of name, first, end; half-open',
  UNIQUE KEY (project_id, code),
  FOREIGN KEY (project_id) REFERENCES project (id)
) ENGINE=InnoDB
