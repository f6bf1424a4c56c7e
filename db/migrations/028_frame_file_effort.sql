ALTER TABLE frame_file
  ADD COLUMN IF NOT EXISTS effort CHAR(64) NULL COMMENT 'fingerprint of how much was asked for'
