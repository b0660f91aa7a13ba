const exact = 'CHARACTER SET ascii COLLATE ascii_bin'
const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** Citation styles that somebody brought, and the language in which an inquiry's citations are written. */
export const styles: string[] = [
  `ALTER TABLE inquiries ADD COLUMN IF NOT EXISTS language VARCHAR(20) ${exact} NULL AFTER style`,
  `CREATE TABLE IF NOT EXISTS own_styles (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, user_id INT UNSIGNED NOT NULL, info JSON NOT NULL, xml MEDIUMTEXT NOT NULL,
   dropped BOOLEAN NOT NULL DEFAULT FALSE, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), KEY style_user (user_id, id),
   CONSTRAINT style_of_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE) ${end}`,
]
