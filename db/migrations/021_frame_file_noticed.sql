ALTER TABLE frame_file
  ADD COLUMN IF NOT EXISTS noticed_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) COMMENT 'since when the file is known as it is';
