ALTER TABLE node
  ADD COLUMN IF NOT EXISTS encodes TINYINT UNSIGNED NULL COMMENT 'ffmpeg is there, NULL: nobody has asked yet'
