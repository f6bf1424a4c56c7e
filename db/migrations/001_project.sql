CREATE TABLE IF NOT EXISTS project (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  slug VARCHAR(64) NOT NULL UNIQUE,
  title VARCHAR(120) NOT NULL,
  rate_numerator INT UNSIGNED NOT NULL,
  rate_denominator INT UNSIGNED NOT NULL,
  root VARCHAR(64) NOT NULL COMMENT 'name of a declared storage root',
  folder VARCHAR(200) NOT NULL COMMENT 'relative to the root'
) ENGINE=InnoDB
