ALTER TABLE task MODIFY COLUMN passes INT UNSIGNED NOT NULL DEFAULT 1
  COMMENT 'a bit for each pass that it may write, in the order of core/plan/passes';
