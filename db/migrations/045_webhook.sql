CREATE TABLE IF NOT EXISTS webhook (
  name VARCHAR(64) NOT NULL PRIMARY KEY,
  about JSON NOT NULL COMMENT 'kinds of what happens that it wants to hear of'
) ENGINE=InnoDB COMMENT 'as the server''s configuration names them; addresses and secrets stay there'
