ALTER TABLE run
  ADD COLUMN IF NOT EXISTS lit_until INT UNSIGNED NULL COMMENT 'while its lighting cache is made, only tasks before this position are leased',
  ADD COLUMN IF NOT EXISTS lights TINYINT NOT NULL DEFAULT 0 COMMENT 'has tasks without passes, which make a lighting cache'
