ALTER TABLE frame_file ADD COLUMN IF NOT EXISTS noise DOUBLE NULL COMMENT 'grain, share of white (Immerkaer)'
