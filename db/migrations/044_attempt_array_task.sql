ALTER TABLE attempt
  ADD COLUMN IF NOT EXISTS array_task VARCHAR(40) NULL COMMENT 'of the batch system that made it: array_index'
