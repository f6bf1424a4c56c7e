-- Runs, their tasks (the queue), and the attempts made at them. The lives of runs and tasks are drawn
-- in src/core/run/run-life.ts and task-life.ts.

CREATE TABLE IF NOT EXISTS run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  sequence_id INT UNSIGNED NOT NULL COMMENT 'in whose sight it was started',
  kind ENUM('sequence', 'proof') NOT NULL DEFAULT 'sequence',
  state ENUM('active', 'stopping', 'halting', 'stopped', 'done') NOT NULL DEFAULT 'active',
  policy ENUM('fill', 'mend', 'all', 'refine') NOT NULL,
  wanted MEDIUMTEXT NOT NULL COMMENT 'the frames that were asked for, as they were written',
  run_order ENUM('first-to-last', 'coarse-to-fine', 'ends-first', 'as-written') NOT NULL DEFAULT 'first-to-last',
  priority TINYINT NOT NULL DEFAULT 0 COMMENT 'higher goes before',
  nodes JSON NULL COMMENT 'names of nodes that may take part, NULL is all',
  batch SMALLINT UNSIGNED NULL COMMENT 'tasks that a node takes at once, NULL is as measured',
  start_at DATETIME(3) NULL COMMENT 'nothing is leased before',
  stop_at DATETIME(3) NULL COMMENT 'it stops by itself',
  held JSON NULL COMMENT 'why nothing of it is leased though it goes on',
  judged_from DATETIME(3) NULL COMMENT 'failures from before count no more',
  kept INT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'frames of its wish that it left alone when it started',
  estimated_seconds DOUBLE NULL COMMENT 'likely length when it started, NULL: nothing was timed',
  handout VARCHAR(255) NULL COMMENT 'folder of the hand-out, relative to the version folder, and no node leases of such a run',
  lights TINYINT NOT NULL DEFAULT 0 COMMENT 'has tasks that gather light',
  lit_until INT UNSIGNED NULL COMMENT 'while its light is gathered, only tasks before this position are leased',
  plan JSON NULL COMMENT 'settings of a proof where they differ from the revision',
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  ended_at DATETIME(3) NULL,
  KEY (state),
  KEY (sequence_id),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB;

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
) ENGINE=InnoDB COMMENT 'what a run covers: one version, or several looks';

CREATE TABLE IF NOT EXISTS run_share (
  run_id INT UNSIGNED NOT NULL,
  machine VARCHAR(64) NOT NULL,
  frames MEDIUMTEXT NOT NULL COMMENT 'a phrase in plain numbers',
  taken_back_at DATETIME(3) NULL COMMENT 'its frames wait for that machine no more',
  PRIMARY KEY (run_id, machine),
  FOREIGN KEY (run_id) REFERENCES run (id)
) ENGINE=InnoDB COMMENT 'of a hand-out';

CREATE TABLE IF NOT EXISTS task (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  run_id INT UNSIGNED NOT NULL,
  kind ENUM('frame', 'light', 'check', 'scan', 'encode') NOT NULL DEFAULT 'frame',
  sequence_id INT UNSIGNED NOT NULL COMMENT 'beauty sequence of the camera: what its lease is held on',
  frame INT NOT NULL,
  passes TINYINT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'a bit for each pass that it may write, in the order of core/plan/passes',
  is_proof TINYINT UNSIGNED NOT NULL DEFAULT 0,
  position INT UNSIGNED NOT NULL COMMENT 'order inside the run',
  state ENUM('waiting', 'leased', 'done', 'failed', 'dropped') NOT NULL DEFAULT 'waiting',
  tries TINYINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'that failed',
  not_before DATETIME(6) NOT NULL DEFAULT '2000-01-01',
  avoid_node_id INT UNSIGNED NULL COMMENT 'failed there: another node tries, if there is one',
  reserved_node_id INT UNSIGNED NULL COMMENT 'waits as part of this node''s batch until not_before',
  token CHAR(36) NULL COMMENT 'of its lease',
  lease_until DATETIME(6) NULL,
  node_id INT UNSIGNED NULL COMMENT 'that holds it, or made it',
  attempt_id BIGINT UNSIGNED NULL,
  progress FLOAT NULL,
  put_back TINYINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'its holder is asked to save and give it back',
  content_before CHAR(64) NULL COMMENT 'of a frame that is handed out: the file that was there, which is not the one that comes back',
  leased_frame INT AS (IF(state = 'leased' AND is_proof = 0, frame, NULL)) VIRTUAL
    COMMENT 'two nodes never render one frame of a sequence at the same time, proofs are apart',
  UNIQUE KEY one_lease_a_frame (sequence_id, leased_frame),
  KEY next_in_run (run_id, state, position, frame, sequence_id, passes, kind)
    COMMENT 'what follows position is there so that a tally reads the key alone',
  KEY expired (state, lease_until),
  FOREIGN KEY (run_id) REFERENCES run (id),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id),
  FOREIGN KEY (node_id) REFERENCES node (id)
) ENGINE=InnoDB COMMENT 'the queue';

CREATE TABLE IF NOT EXISTS attempt (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  task_id BIGINT UNSIGNED NOT NULL,
  run_id INT UNSIGNED NOT NULL,
  kind ENUM('frame', 'light', 'check', 'scan', 'encode') NOT NULL DEFAULT 'frame',
  sequence_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  passes TINYINT UNSIGNED NOT NULL DEFAULT 1,
  node_id INT UNSIGNED NOT NULL,
  started_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  ended_at DATETIME(3) NULL,
  outcome ENUM('running', 'done', 'failed', 'lost', 'stopped') NOT NULL DEFAULT 'running',
  code VARCHAR(64) NULL COMMENT 'of its failure',
  message VARCHAR(500) NULL,
  of_place TINYINT UNSIGNED NOT NULL DEFAULT 0 COMMENT 'failed for what its node saw of the files: blames neither frame nor scene',
  startup_seconds DOUBLE NULL,
  light_seconds DOUBLE NULL COMMENT 'spent on light that it gathered itself',
  light_made INT UNSIGNED NULL COMMENT 'frames whose light it gathered itself',
  render_seconds DOUBLE NULL,
  denoise_seconds DOUBLE NULL,
  write_seconds DOUBLE NULL,
  samples INT UNSIGNED NULL,
  samples_added DOUBLE NULL COMMENT 'samples a pixel that the attempt itself took, NULL: all of them',
  stopped_by ENUM('samples', 'noise', 'time') NULL COMMENT 'what ended the sampling',
  other_load DOUBLE NULL COMMENT 'share of the machine that other programs used meanwhile, 0 to 1',
  KEY history (sequence_id, frame, id),
  KEY of_run (run_id, id),
  FOREIGN KEY (task_id) REFERENCES task (id),
  FOREIGN KEY (run_id) REFERENCES run (id),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id),
  FOREIGN KEY (node_id) REFERENCES node (id)
) ENGINE=InnoDB COMMENT 'one try of one task on one node';

CREATE TABLE IF NOT EXISTS attempt_line (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  attempt_id BIGINT UNSIGNED NOT NULL,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  level ENUM('info', 'warning', 'error') NOT NULL,
  text VARCHAR(1000) NOT NULL,
  KEY (attempt_id),
  FOREIGN KEY (attempt_id) REFERENCES attempt (id)
) ENGINE=InnoDB COMMENT 'its log';

CREATE TABLE IF NOT EXISTS node_aside (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  node_id INT UNSIGNED NOT NULL,
  run_id INT UNSIGNED NULL COMMENT 'NULL: it takes tasks of no run',
  reason JSON NOT NULL,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  let_in_at DATETIME(3) NULL COMMENT 'set when somebody, or the node itself, let it in again',
  KEY open_of_node (node_id, let_in_at),
  KEY open_ones (let_in_at),
  FOREIGN KEY (node_id) REFERENCES node (id),
  FOREIGN KEY (run_id) REFERENCES run (id)
) ENGINE=InnoDB;
