-- Settings of movies that somebody keeps under a name, for the whole house; those that ship are no rows.
CREATE TABLE IF NOT EXISTS movie_preset (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL UNIQUE,
  movie JSON NOT NULL,
  who VARCHAR(80) NULL COMMENT 'the name of the person that kept it last',
  changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE=InnoDB;
