CREATE TABLE IF NOT EXISTS webhook_call (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  webhook VARCHAR(64) NOT NULL,
  about VARCHAR(32) NOT NULL COMMENT 'what has happened',
  facts JSON NOT NULL COMMENT 'what whoever noted it knew',
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  tries TINYINT UNSIGNED NOT NULL DEFAULT 0,
  next_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  fault VARCHAR(300) NULL COMMENT 'of the last try',
  heard TINYINT UNSIGNED NOT NULL DEFAULT 0,
  closed_at DATETIME(3) NULL COMMENT 'heard, or given up',
  KEY due (closed_at, next_at),
  KEY of_webhook (webhook, id)
) ENGINE=InnoDB COMMENT 'what is told to webhooks, or was'
