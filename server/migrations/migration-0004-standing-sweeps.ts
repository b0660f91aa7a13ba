/** Sweeps that are run again by schedule, and which of their records were new each time. */
export const standingSweeps: string[] = [
  `CREATE TABLE IF NOT EXISTS standing_sweeps (id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, user_id INT UNSIGNED NULL, name VARCHAR(190) NOT NULL, query TEXT NOT NULL, catalogues JSON NOT NULL,
   every_days SMALLINT UNSIGNED NOT NULL, next_day DATE NOT NULL, mails BOOLEAN NOT NULL DEFAULT 0, paused BOOLEAN NOT NULL DEFAULT 0, token CHAR(32) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
   UNIQUE KEY by_token (token), KEY by_day (paused, next_day), CONSTRAINT standing_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE,
   CONSTRAINT standing_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE SET NULL) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
  `ALTER TABLE sweeps ADD COLUMN IF NOT EXISTS standing_id INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS found_new INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS told_at DATETIME(3) NULL, ADD INDEX IF NOT EXISTS by_standing (standing_id)`,
  `ALTER TABLE sweep_hits ADD COLUMN IF NOT EXISTS is_new BOOLEAN NOT NULL DEFAULT 0`,
  // with the moment of change in the key of the reference, every sign of life of a job waited for the inquiry's row
  `ALTER TABLE jobs ADD INDEX IF NOT EXISTS of_inquiry (inquiry_id), DROP INDEX IF EXISTS inquiry_id`,
]
