ALTER TABLE run
  ADD COLUMN IF NOT EXISTS kind ENUM('sequence', 'proof') NOT NULL DEFAULT 'sequence',
  ADD COLUMN IF NOT EXISTS plan JSON NULL COMMENT 'settings of a proof where they differ from the revision'
