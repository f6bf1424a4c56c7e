ALTER TABLE preset
  ADD COLUMN IF NOT EXISTS who VARCHAR(80) NULL COMMENT 'the name of the person that saved or renamed it last',
  ADD COLUMN IF NOT EXISTS changed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3);
