const exact = 'CHARACTER SET ascii COLLATE ascii_bin'
const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/**
 * Libraries that students set up, which of them somebody asks in which order, and what came of trying them. Sessions at
 * a gate and the files that came through it are those of one library.
 */
export const libraries: string[] = [
  `CREATE TABLE IF NOT EXISTS libraries (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, user_id INT UNSIGNED NULL, profile JSON NOT NULL, came_from VARCHAR(500) NULL, allowed BOOLEAN NOT NULL, dropped BOOLEAN NOT NULL DEFAULT 0,
   version INT UNSIGNED NOT NULL DEFAULT 1, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
   CONSTRAINT library_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE) ${end}`,
  `CREATE TABLE IF NOT EXISTS chosen_libraries (user_id INT UNSIGNED NOT NULL, library VARCHAR(40) ${exact} NOT NULL, place INT UNSIGNED NOT NULL, PRIMARY KEY (user_id, library),
   CONSTRAINT chosen_by FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE) ${end}`,
  `CREATE TABLE IF NOT EXISTS library_trials (library VARCHAR(40) ${exact} NOT NULL, part VARCHAR(20) ${exact} NOT NULL, holds BOOLEAN NOT NULL, said TEXT NOT NULL, desk_day DATE NOT NULL,
   at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), PRIMARY KEY (library, part)) ${end}`,
  `ALTER TABLE gate_sessions ADD COLUMN IF NOT EXISTS library VARCHAR(40) ${exact} NOT NULL DEFAULT 'home' AFTER user_id`,
  'ALTER TABLE gate_sessions DROP PRIMARY KEY, ADD PRIMARY KEY (user_id, library)',
  `ALTER TABLE gate_files ADD COLUMN IF NOT EXISTS library VARCHAR(40) ${exact} NOT NULL DEFAULT 'home' AFTER user_id`,
  'ALTER TABLE gate_files DROP PRIMARY KEY, ADD PRIMARY KEY (user_id, library, desk_day)',
]
