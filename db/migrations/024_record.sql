-- What the records beside the frames lack yet, and what is known of their files.
CREATE TABLE IF NOT EXISTS record_outbox (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  table_name VARCHAR(32) NOT NULL,
  row_key VARCHAR(200) NOT NULL
) ENGINE=InnoDB COMMENT 'rows that were written: triggers put their keys here, the recorder takes them out';

CREATE TABLE IF NOT EXISTS record_file (
  project_id INT UNSIGNED NOT NULL,
  host VARCHAR(120) NOT NULL,
  root VARCHAR(64) NOT NULL COMMENT 'of the project, for when it is gone',
  folder VARCHAR(200) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL COMMENT 'a file of another length is begun anew',
  whole_bytes BIGINT UNSIGNED NOT NULL COMMENT 'when it was begun',
  PRIMARY KEY (project_id, host)
) ENGINE=InnoDB COMMENT 'records as they were left, a file a machine';

CREATE TABLE IF NOT EXISTS record_behind (
  project_id INT UNSIGNED NOT NULL PRIMARY KEY
) ENGINE=InnoDB COMMENT 'projects whose folder could not be written: whoever can begins their record anew';

CREATE TABLE IF NOT EXISTS record_go (
  id TINYINT UNSIGNED NOT NULL PRIMARY KEY,
  go BIGINT UNSIGNED NOT NULL COMMENT 'number of the last go of the recorder: milliseconds since 1970, or one more than the last'
) ENGINE=InnoDB COMMENT 'one row';
