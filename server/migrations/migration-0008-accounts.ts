/**
 * Roles, passwords that have to be changed, sessions that can be listed and ended, tries that are counted over all
 * processes.
 */
const exact = 'CHARACTER SET ascii COLLATE ascii_bin'

export const accounts: string[] = [
  `ALTER TABLE users ADD COLUMN IF NOT EXISTS role ENUM('student','administrator') NOT NULL DEFAULT 'student', ADD COLUMN IF NOT EXISTS must_change BOOLEAN NOT NULL DEFAULT 0`,
  `ALTER TABLE sessions ADD COLUMN IF NOT EXISTS user_id INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS agent VARCHAR(190) NOT NULL DEFAULT '', ADD INDEX IF NOT EXISTS by_user (user_id)`,
  // sessions of before do not say whose they are: who has one signs in once more
  'DELETE FROM sessions WHERE user_id IS NULL',
  'ALTER TABLE sessions DROP FOREIGN KEY IF EXISTS session_user',
  'ALTER TABLE sessions ADD CONSTRAINT session_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE',
  `CREATE TABLE IF NOT EXISTS tries (id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, about CHAR(64) ${exact} NOT NULL, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), KEY by_about (about, at)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
]
