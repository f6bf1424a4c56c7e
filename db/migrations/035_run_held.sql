ALTER TABLE run
  ADD COLUMN IF NOT EXISTS held JSON NULL COMMENT 'why no frame of it is leased though it goes on',
  ADD COLUMN IF NOT EXISTS judged_from DATETIME(3) NULL COMMENT 'failures from before count no more'
