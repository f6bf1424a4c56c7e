ALTER TABLE shot
  ADD COLUMN IF NOT EXISTS thresholds JSON NULL COMMENT 'how far off is odd, where it is not as usual'
