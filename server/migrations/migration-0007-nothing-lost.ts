/**
 * Answers kept with what they answer, jobs that end their process, files in chunks alone, columns as wide as the
 * interface allows.
 */
const exact = 'CHARACTER SET ascii COLLATE ascii_bin'
const at = 'at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)'
const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

export const nothingLost: string[] = [
  'DROP TABLE IF EXISTS idempotency',
  `CREATE TABLE IF NOT EXISTS answers (user_id INT UNSIGNED NOT NULL, answer_key VARCHAR(80) ${exact} NOT NULL, request_hash CHAR(64) ${exact} NOT NULL, inquiry_id INT UNSIGNED NULL,
   status SMALLINT UNSIGNED NOT NULL, body JSON NOT NULL, ${at}, PRIMARY KEY (user_id, answer_key), KEY by_age (at),
   CONSTRAINT answer_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE, CONSTRAINT answer_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE) ${end}`,
  // files brought for a work, until they are read
  `CREATE TABLE IF NOT EXISTS uploads (id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, work_id INT UNSIGNED NOT NULL, hash CHAR(64) ${exact} NOT NULL, name VARCHAR(255) NOT NULL, ${at},
   CONSTRAINT upload_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE, CONSTRAINT upload_work FOREIGN KEY (work_id) REFERENCES works (id) ON DELETE CASCADE, CONSTRAINT upload_blob FOREIGN KEY (hash) REFERENCES blobs (hash)) ${end}`,
  // what is kept of a library's files can be fetched again
  'DROP TABLE IF EXISTS holdings_files',
  `CREATE TABLE holdings_files (address VARCHAR(500) ${exact} NOT NULL PRIMARY KEY, hash CHAR(64) ${exact} NOT NULL, ${at}, CONSTRAINT holdings_blob FOREIGN KEY (hash) REFERENCES blobs (hash)) ${end}`,
  // a standard dump writes six digits of a FLOAT
  'ALTER TABLE pair_links MODIFY score DOUBLE NOT NULL',
  'ALTER TABLE works MODIFY confidence DOUBLE NOT NULL',
  'ALTER TABLE entries MODIFY annotation MEDIUMTEXT NOT NULL',
  'ALTER TABLE passages MODIFY quote MEDIUMTEXT NOT NULL, MODIFY note MEDIUMTEXT NOT NULL',
  `ALTER TABLE passages ADD COLUMN IF NOT EXISTS own_id CHAR(36) ${exact} NULL, ADD UNIQUE INDEX IF NOT EXISTS by_own_id (own_id)`,
  'ALTER TABLE inquiries MODIFY question MEDIUMTEXT NOT NULL, MODIFY query MEDIUMTEXT NOT NULL',
  'ALTER TABLE sweeps MODIFY query MEDIUMTEXT NOT NULL, MODIFY cql MEDIUMTEXT NOT NULL, MODIFY note MEDIUMTEXT NULL',
  'ALTER TABLE sweep_catalogues MODIFY asked MEDIUMTEXT NULL',
  'ALTER TABLE standing_sweeps MODIFY query MEDIUMTEXT NOT NULL',
  // a user can be forgotten where others go on with what they decided
  'ALTER TABLE decisions DROP FOREIGN KEY IF EXISTS decisions_ibfk_3',
  'ALTER TABLE decisions DROP FOREIGN KEY IF EXISTS decision_user',
  'ALTER TABLE decisions MODIFY user_id INT UNSIGNED NULL',
  'ALTER TABLE decisions ADD CONSTRAINT decision_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE SET NULL',
  // how often its worker vanished, and when it was last taken up, for taking turns
  'ALTER TABLE jobs ADD COLUMN IF NOT EXISTS losses TINYINT UNSIGNED NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS claimed_at DATETIME(3) NULL, ADD INDEX IF NOT EXISTS by_turn (user_id, claimed_at)',
]
