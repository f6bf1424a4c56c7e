ALTER TABLE run
  ADD CONSTRAINT run_after FOREIGN KEY IF NOT EXISTS run_after (after_run_id) REFERENCES run (id)
    ON DELETE SET NULL;
