ALTER TABLE finding
  ADD COLUMN IF NOT EXISTS who VARCHAR(80) NULL COMMENT 'the name of the person that flagged it',
  ADD COLUMN IF NOT EXISTS closed_who VARCHAR(80) NULL COMMENT 'the same of who dismissed it';
