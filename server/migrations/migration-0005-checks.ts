/** Checks of how much is left: how many works were unread, and which of them were drawn. */
export const checks: string[] = [
  `CREATE TABLE IF NOT EXISTS checks (id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, user_id INT UNSIGNED NULL, n SMALLINT UNSIGNED NOT NULL, size INT UNSIGNED NOT NULL, drawn JSON NOT NULL,
   desk_day DATE NOT NULL, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), UNIQUE KEY one_n (inquiry_id, n), CONSTRAINT check_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE,
   CONSTRAINT check_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE SET NULL) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
]
