ALTER TABLE task
  MODIFY COLUMN leased_frame INT AS (IF(state = 'leased' AND is_proof = 0, frame, NULL)) VIRTUAL COMMENT 'two nodes never render one frame of a sequence at the same time; proofs are apart'
