-- Names of project and shot when the version was opened: its folder and its files bear them, whatever the two are
-- called now. Blank for a moment only, while this file is applied.
ALTER TABLE version
  ADD COLUMN IF NOT EXISTS named_project VARCHAR(64) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS named_shot VARCHAR(32) NOT NULL DEFAULT '';
UPDATE version v
  JOIN shot s ON s.id = v.shot_id
  JOIN project p ON p.id = s.project_id
  SET v.named_project = p.slug, v.named_shot = s.code
  WHERE v.named_shot = '';
