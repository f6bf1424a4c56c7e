-- What the renderer got of the processors: times taken beside other work are corrected by it.
ALTER TABLE attempt
  ADD COLUMN IF NOT EXISTS cpu_share DOUBLE NULL COMMENT 'processor seconds of the renderer for each second by the clock, NULL: not known';
