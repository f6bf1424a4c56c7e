ALTER TABLE version
  ADD COLUMN IF NOT EXISTS from_revision_id INT UNSIGNED NULL COMMENT 'plan revision that a rough version was made from',
  ADD UNIQUE KEY IF NOT EXISTS one_number (shot_id, purpose, number),
  DROP KEY IF EXISTS shot_id
