CREATE TABLE IF NOT EXISTS run_version (
  run_id INT UNSIGNED NOT NULL,
  version_id INT UNSIGNED NOT NULL,
  revision_id INT UNSIGNED NOT NULL,
  scene_folder VARCHAR(255) NOT NULL COMMENT 'frozen scene, relative to the version folder',
  sources JSON NOT NULL COMMENT 'what the look fingerprint is made from',
  PRIMARY KEY (run_id, version_id),
  KEY runs_of_version (version_id, run_id),
  FOREIGN KEY (run_id) REFERENCES run (id),
  FOREIGN KEY (version_id) REFERENCES version (id),
  FOREIGN KEY (revision_id) REFERENCES plan_revision (id)
) ENGINE=InnoDB COMMENT 'what a run covers: one version, or several looks'
