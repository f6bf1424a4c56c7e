ALTER TABLE finding
  ADD COLUMN IF NOT EXISTS place_left DOUBLE NULL COMMENT 'where in the picture it is, parts of its width and height; NULL: all of it',
  ADD COLUMN IF NOT EXISTS place_top DOUBLE NULL,
  ADD COLUMN IF NOT EXISTS place_width DOUBLE NULL,
  ADD COLUMN IF NOT EXISTS place_height DOUBLE NULL;
