ALTER TABLE task ADD COLUMN IF NOT EXISTS content_before CHAR(64) NULL COMMENT 'of a frame that is handed out: the file that was there, which is not the one that comes back'
