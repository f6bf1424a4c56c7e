INSERT IGNORE INTO measure_task (sequence_id, frame, content)
  SELECT f.sequence_id, f.frame, f.content FROM frame_file f
  WHERE f.verdict = 'good' AND f.content IS NOT NULL
