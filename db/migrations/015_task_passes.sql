ALTER TABLE task
  ADD COLUMN IF NOT EXISTS passes TINYINT UNSIGNED NOT NULL DEFAULT 1 COMMENT 'a bit for each pass that the task may write, in the order of core/plan/passes',
  ADD COLUMN IF NOT EXISTS is_proof TINYINT UNSIGNED NOT NULL DEFAULT 0,
  ADD KEY IF NOT EXISTS next_in_run (run_id, state, position, frame, sequence_id, passes) COMMENT 'frame, sequence and passes are there so that a tally reads the key alone',
  DROP KEY IF EXISTS next_of_run
