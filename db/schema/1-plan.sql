-- What is planned and where it lies: projects, their shots, versions, plan revisions and sequences.

CREATE TABLE IF NOT EXISTS project (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  slug VARCHAR(64) NOT NULL UNIQUE COMMENT 'in addresses, names and folders',
  title VARCHAR(120) NOT NULL,
  rate_numerator INT UNSIGNED NOT NULL,
  rate_denominator INT UNSIGNED NOT NULL,
  root VARCHAR(64) NOT NULL COMMENT 'name of a declared storage root',
  folder VARCHAR(200) NOT NULL COMMENT 'relative to the root'
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS shot (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  code VARCHAR(32) NOT NULL COMMENT 'its own within the project',
  title VARCHAR(120) NOT NULL,
  first_frame INT NOT NULL COMMENT 'of the time line',
  last_frame INT NOT NULL,
  markers JSON NOT NULL COMMENT 'array of name, first, end, half-open',
  UNIQUE KEY (project_id, code),
  FOREIGN KEY (project_id) REFERENCES project (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS version (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  purpose ENUM('final', 'rough') NOT NULL DEFAULT 'final',
  number INT UNSIGNED NOT NULL,
  status ENUM('open', 'chosen', 'retired') NOT NULL DEFAULT 'open',
  from_revision_id INT UNSIGNED NULL COMMENT 'plan revision that a rough version was made from',
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY one_number (shot_id, purpose, number),
  FOREIGN KEY (shot_id) REFERENCES shot (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS plan_revision (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  version_id INT UNSIGNED NOT NULL,
  number INT UNSIGNED NOT NULL,
  plan JSON NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY (version_id, number),
  FOREIGN KEY (version_id) REFERENCES version (id)
) ENGINE=InnoDB COMMENT 'never changed once written';

CREATE TABLE IF NOT EXISTS sequence (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  version_id INT UNSIGNED NOT NULL,
  camera VARCHAR(64) NOT NULL,
  pass VARCHAR(32) NOT NULL,
  UNIQUE KEY (version_id, camera, pass),
  FOREIGN KEY (version_id) REFERENCES version (id)
) ENGINE=InnoDB COMMENT 'the unit of the tally';

CREATE TABLE IF NOT EXISTS edit_use (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  edit_name VARCHAR(200) NOT NULL,
  frames MEDIUMTEXT NOT NULL COMMENT 'phrase of the scene frames that the edit shows',
  previous_frames MEDIUMTEXT NULL COMMENT 'the same of the edit before',
  imported_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY (shot_id),
  FOREIGN KEY (shot_id) REFERENCES shot (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS preset (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(80) NOT NULL UNIQUE,
  settings JSON NOT NULL COMMENT 'a plan without its shot',
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE=InnoDB;
