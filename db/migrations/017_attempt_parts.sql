ALTER TABLE attempt
  ADD COLUMN IF NOT EXISTS passes TINYINT UNSIGNED NOT NULL DEFAULT 1,
  ADD COLUMN IF NOT EXISTS denoise_seconds DOUBLE NULL,
  ADD COLUMN IF NOT EXISTS stopped_by ENUM('samples', 'noise', 'time') NULL COMMENT 'what ended the sampling',
  ADD COLUMN IF NOT EXISTS other_load DOUBLE NULL COMMENT 'share of the machine that other programs used meanwhile, 0 to 1'
