CREATE TABLE IF NOT EXISTS node_invitation (
  name VARCHAR(64) NOT NULL PRIMARY KEY COMMENT 'of the node; the account of the database is called after it',
  roots JSON NOT NULL COMMENT 'of each root what its file of this invitation hashes to',
  invited_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  invited_by VARCHAR(80) NULL,
  revoked_at DATETIME(3) NULL COMMENT 'its account is gone',
  revoked_by VARCHAR(80) NULL
) ENGINE=InnoDB COMMENT 'machines that may come in over the network; the key is known to the account alone, hashed';
