ALTER TABLE node
  ADD COLUMN IF NOT EXISTS machine VARCHAR(120) NULL COMMENT 'as a batch system calls it, whose tasks work under this name; NULL: a node that stays'
