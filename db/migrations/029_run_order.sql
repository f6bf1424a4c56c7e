ALTER TABLE run
  ADD COLUMN IF NOT EXISTS run_order ENUM('first-to-last', 'coarse-to-fine', 'ends-first', 'as-written') NOT NULL DEFAULT 'first-to-last',
  ADD COLUMN IF NOT EXISTS priority TINYINT NOT NULL DEFAULT 0 COMMENT 'higher goes before',
  ADD COLUMN IF NOT EXISTS start_at DATETIME(3) NULL COMMENT 'no frame is leased before',
  ADD COLUMN IF NOT EXISTS stop_at DATETIME(3) NULL COMMENT 'the run stops by itself',
  MODIFY COLUMN wanted MEDIUMTEXT NOT NULL COMMENT 'the frames that were asked for, as they were written'
