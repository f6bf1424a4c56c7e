-- What is known of frames: their files, findings, proofs, saved samples, and small pictures of what is in work.

CREATE TABLE IF NOT EXISTS frame_file (
  sequence_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  name VARCHAR(255) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  modified_ms DOUBLE NOT NULL COMMENT 'time of the file as the file system tells it',
  content CHAR(64) NULL COMMENT 'SHA-256 of the bytes, NULL until looked at',
  verdict ENUM('good', 'damaged', 'unsupported') NULL COMMENT 'NULL until looked at',
  code VARCHAR(32) NULL,
  detail VARCHAR(300) NULL,
  width INT UNSIGNED NULL,
  height INT UNSIGNED NULL,
  look CHAR(64) NULL COMMENT 'fingerprint',
  effort CHAR(64) NULL COMMENT 'fingerprint of how much was asked for',
  samples INT UNSIGNED NULL,
  attempt_id BIGINT UNSIGNED NULL,
  node VARCHAR(64) NULL,
  seconds DOUBLE NULL COMMENT 'of the attempt that made it',
  luminance DOUBLE NULL COMMENT 'mean, Rec. 709, 0 to 1',
  noise DOUBLE NULL COMMENT 'grain, share of white (Immerkaer)',
  PRIMARY KEY (sequence_id, frame),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB COMMENT 'as it was last seen on disk';

CREATE TABLE IF NOT EXISTS finding (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sequence_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  source ENUM('check', 'node', 'person') NOT NULL,
  code VARCHAR(32) NOT NULL,
  text VARCHAR(500) NOT NULL COMMENT 'what was found, or the reason a person gave',
  state ENUM('open', 'dismissed', 'fixed') NOT NULL DEFAULT 'open',
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  closed_at DATETIME(3) NULL,
  KEY of_sequence (sequence_id, state, frame),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS proof_file (
  run_id INT UNSIGNED NOT NULL,
  sequence_id INT UNSIGNED NOT NULL COMMENT 'the sequence that the file would belong to',
  frame INT NOT NULL,
  attempt_id BIGINT UNSIGNED NOT NULL,
  node VARCHAR(64) NOT NULL,
  path VARCHAR(400) NOT NULL COMMENT 'relative to the version folder',
  bytes BIGINT UNSIGNED NOT NULL,
  content CHAR(64) NOT NULL,
  width INT UNSIGNED NOT NULL,
  height INT UNSIGNED NOT NULL,
  look CHAR(64) NOT NULL,
  effort CHAR(64) NOT NULL,
  file CHAR(64) NOT NULL,
  samples INT UNSIGNED NOT NULL,
  luminance DOUBLE NOT NULL,
  noise DOUBLE NOT NULL,
  PRIMARY KEY (run_id, sequence_id, frame),
  FOREIGN KEY (run_id) REFERENCES run (id),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB;

CREATE TABLE IF NOT EXISTS checkpoint (
  sequence_id INT UNSIGNED NOT NULL COMMENT 'beauty sequence of the camera',
  frame INT NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  modified_ms DOUBLE NOT NULL,
  samples INT UNSIGNED NOT NULL,
  share DOUBLE NOT NULL COMMENT 'of what was asked, 0 to 1',
  seconds DOUBLE NOT NULL COMMENT 'render seconds that went into it',
  node VARCHAR(64) NOT NULL,
  look JSON NOT NULL COMMENT 'settings that it was made with',
  effort JSON NOT NULL,
  layers TINYINT UNSIGNED NOT NULL COMMENT 'sums for passes are in it',
  cover TINYINT UNSIGNED NOT NULL COMMENT 'sums for alpha are in it',
  PRIMARY KEY (sequence_id, frame),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB COMMENT 'saved samples, as the folder holds them';

CREATE TABLE IF NOT EXISTS frame_preview (
  task_id BIGINT UNSIGNED NOT NULL PRIMARY KEY,
  sequence_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  made_at DATETIME(3) NOT NULL,
  jpeg MEDIUMBLOB NOT NULL,
  KEY (sequence_id, frame),
  FOREIGN KEY (task_id) REFERENCES task (id)
) ENGINE=InnoDB COMMENT 'what there is so far of a frame in work';
