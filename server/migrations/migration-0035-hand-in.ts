const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'
const exact = 'CHARACTER SET ascii COLLATE ascii_bin'

/** How a bibliography is laid out, what is written around its list, and its states as they were handed in. */
export const handIn: string[] = [
  `ALTER TABLE inquiries ADD COLUMN IF NOT EXISTS layout JSON NULL AFTER language`,
  `ALTER TABLE entries ADD COLUMN IF NOT EXISTS place INT UNSIGNED NULL AFTER annotation`,
  `CREATE TABLE IF NOT EXISTS list_texts (inquiry_id INT UNSIGNED NOT NULL, place VARCHAR(40) ${exact} NOT NULL,
   content MEDIUMTEXT NOT NULL, version INT UNSIGNED NOT NULL DEFAULT 0, PRIMARY KEY (inquiry_id, place),
   CONSTRAINT list_text_of_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE) ${end}`,
  `CREATE TABLE IF NOT EXISTS versions (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL,
   user_id INT UNSIGNED NULL, day DATE NOT NULL, hash CHAR(64) ${exact} NOT NULL, why VARCHAR(20) NOT NULL,
   formats JSON NOT NULL, entries INT UNSIGNED NOT NULL, words INT UNSIGNED NOT NULL, style_name VARCHAR(255) NOT NULL,
   layout JSON NOT NULL, paper JSON NOT NULL,
   at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), KEY version_inquiry (inquiry_id, id),
   CONSTRAINT version_of_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE,
   CONSTRAINT version_of_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE SET NULL) ${end}`,
]
