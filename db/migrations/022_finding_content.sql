ALTER TABLE finding
  ADD COLUMN IF NOT EXISTS content CHAR(64) NULL COMMENT 'SHA-256 of the file that a person judged, NULL: not known';
