-- What is archived stays as it is, and is not shown, watched or counted.
ALTER TABLE project
  ADD COLUMN IF NOT EXISTS archived_at DATETIME(3) NULL,
  ADD COLUMN IF NOT EXISTS defaults JSON NULL COMMENT 'settings that plans of new shots begin with, NULL: none';
ALTER TABLE shot
  ADD COLUMN IF NOT EXISTS archived_at DATETIME(3) NULL;
