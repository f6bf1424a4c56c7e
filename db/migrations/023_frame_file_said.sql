ALTER TABLE frame_file
  ADD COLUMN IF NOT EXISTS said VARCHAR(500) NULL COMMENT 'what a log of another program says of its making, NULL: nothing';
