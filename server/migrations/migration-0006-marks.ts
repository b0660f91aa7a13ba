/** What students say of works beside deciding on them, strands, saved views, arrivals, and what changed since when. */
const inquiry = (name: string): string =>
  `CONSTRAINT ${name}_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE`
const user = (name: string): string =>
  `CONSTRAINT ${name}_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE SET NULL`
const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'
const at = 'at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)'
const exact = 'CHARACTER SET ascii COLLATE ascii_bin'

export const marks: string[] = [
  `CREATE TABLE IF NOT EXISTS marks (n INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, id CHAR(36) ${exact} NOT NULL UNIQUE, group_id CHAR(36) ${exact} NOT NULL, inquiry_id INT UNSIGNED NOT NULL, work_id INT UNSIGNED NOT NULL,
   about VARCHAR(120) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL, value JSON NULL, undoes CHAR(36) ${exact} NULL, user_id INT UNSIGNED NULL, revision INT UNSIGNED NOT NULL, ${at},
   KEY by_group (group_id), KEY by_work (work_id), KEY by_inquiry (inquiry_id, n), ${inquiry('mark')}, ${user('mark')}) ${end}`,
  `CREATE TABLE IF NOT EXISTS strands (id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, name VARCHAR(80) NOT NULL, place SMALLINT UNSIGNED NOT NULL, gone BOOLEAN NOT NULL DEFAULT 0, ${at},
   ${inquiry('strand')}) ${end}`,
  `CREATE TABLE IF NOT EXISTS pool_views (id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, name VARCHAR(80) NOT NULL, limits JSON NOT NULL, words VARCHAR(190) NOT NULL DEFAULT '', ${at}, ${inquiry('view')}) ${end}`,
  `CREATE TABLE IF NOT EXISTS arrivals (id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, user_id INT UNSIGNED NULL, how VARCHAR(20) NOT NULL, records INT UNSIGNED NOT NULL, new_works INT UNSIGNED NOT NULL, known INT UNSIGNED NOT NULL, ${at},
   ${inquiry('arrival')}, ${user('arrival')}) ${end}`,
  `ALTER TABLE records ADD COLUMN IF NOT EXISTS arrival INT UNSIGNED NULL`,
  `ALTER TABLE works ADD COLUMN IF NOT EXISTS said JSON NULL, ADD COLUMN IF NOT EXISTS decided_at DATETIME(3) NULL, ADD COLUMN IF NOT EXISTS revision INT UNSIGNED NOT NULL DEFAULT 0, ADD INDEX IF NOT EXISTS by_revision (inquiry_id, revision)`,
  `ALTER TABLE copies ADD COLUMN IF NOT EXISTS signs JSON NULL`,
  `ALTER TABLE pair_links MODIFY verdict ENUM('same','never','asked','linked') NOT NULL`,
  `UPDATE works SET decided_at = (SELECT MAX(d.at) FROM decisions d WHERE d.work_id = works.id AND d.undoes IS NULL) WHERE state <> 'unread' AND decided_at IS NULL`,
]
