INSERT IGNORE INTO run_version (run_id, version_id, revision_id, scene_folder, sources)
  SELECT r.id, q.version_id, r.revision_id, r.scene_folder, r.sources FROM run r JOIN sequence q ON q.id = r.sequence_id
