-- What was measured of pictures, as long as the file is the one that was measured.
CREATE TABLE IF NOT EXISTS frame_measure (
  sequence_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  content CHAR(64) NOT NULL COMMENT 'SHA-256 of the file that was measured',
  facts JSON NULL COMMENT 'size, measures, where hot pixels lie, hash of the pixels; NULL: of a kind that is not shown',
  sketch BLOB NULL COMMENT 'columns, rows, then red, green, blue of each block in 16 bits, the low byte first',
  measured_at DATETIME(6) NOT NULL DEFAULT CURRENT_TIMESTAMP(6) ON UPDATE CURRENT_TIMESTAMP(6),
  PRIMARY KEY (sequence_id, frame),
  FOREIGN KEY (sequence_id) REFERENCES sequence (id)
) ENGINE=InnoDB COMMENT 'can be measured again at any time'
