-- What waits or is in work of some frames, without a walk over the whole run.
ALTER TABLE task ADD KEY IF NOT EXISTS of_frame (sequence_id, frame);
