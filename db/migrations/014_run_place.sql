ALTER TABLE run
  ADD COLUMN IF NOT EXISTS place SMALLINT UNSIGNED NOT NULL DEFAULT 65535
    COMMENT 'among runs of one priority the lower goes before, those of one place share the nodes',
  ADD COLUMN IF NOT EXISTS after_run_id INT UNSIGNED NULL
    COMMENT 'nothing is leased before every frame of that run is good';
