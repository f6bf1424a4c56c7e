ALTER TABLE attempt
  ADD COLUMN IF NOT EXISTS samples_added DOUBLE NULL COMMENT 'samples a pixel that the attempt itself took; NULL: all of them'
