ALTER TABLE run ADD COLUMN IF NOT EXISTS handout VARCHAR(255) NULL COMMENT 'folder of the hand-out, relative to the version folder; no node leases frames of such a run'
