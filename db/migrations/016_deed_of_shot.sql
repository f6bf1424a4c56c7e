ALTER TABLE deed
  ADD COLUMN IF NOT EXISTS shot_id INT UNSIGNED NULL AFTER version_id,
  ADD COLUMN IF NOT EXISTS project_id INT UNSIGNED NULL AFTER shot_id,
  ADD KEY IF NOT EXISTS of_shot (shot_id, id),
  ADD KEY IF NOT EXISTS of_project (project_id, id),
  ADD CONSTRAINT deed_shot FOREIGN KEY IF NOT EXISTS deed_shot (shot_id) REFERENCES shot (id) ON DELETE CASCADE,
  ADD CONSTRAINT deed_project FOREIGN KEY IF NOT EXISTS deed_project (project_id) REFERENCES project (id) ON DELETE CASCADE;
