-- Edits as they were read: the order of their clips, so that shots can be played and handed over in it.
CREATE TABLE IF NOT EXISTS edit (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  name VARCHAR(255) NOT NULL COMMENT 'as the list calls itself, or its file',
  clips JSON NOT NULL COMMENT 'array of shot code, first, end, at; in the order of the list',
  imported_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY newest (project_id, id),
  FOREIGN KEY (project_id) REFERENCES project (id)
) ENGINE=InnoDB;
