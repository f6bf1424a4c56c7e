ALTER TABLE plan_revision
  ADD COLUMN IF NOT EXISTS who VARCHAR(80) NULL COMMENT 'the name of the person that saved it';
