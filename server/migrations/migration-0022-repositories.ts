const exact = 'CHARACTER SET ascii COLLATE ascii_bin'
const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** What was taken in of repositories that are harvested, since they cannot be searched; and how far each is. */
export const repositories: string[] = [
  'DROP TABLE IF EXISTS repository_records',
  'DROP TABLE IF EXISTS repositories',
  `CREATE TABLE repositories (source VARCHAR(40) ${exact} NOT NULL PRIMARY KEY, address VARCHAR(2000) NOT NULL,
   name TEXT NOT NULL, prefix VARCHAR(190) NOT NULL, seconds BOOLEAN NOT NULL, deletes VARCHAR(20) NOT NULL,
   run INT UNSIGNED NOT NULL DEFAULT 0, whole BOOLEAN NOT NULL DEFAULT TRUE, since VARCHAR(40), began VARCHAR(40), token TEXT,
   size INT UNSIGNED, taken INT UNSIGNED NOT NULL DEFAULT 0,
   lost INT UNSIGNED NOT NULL DEFAULT 0, lost_why TEXT, done_until VARCHAR(40), done_day DATE, whole_day DATE) ${end}`,
  `CREATE TABLE repository_records (id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, source VARCHAR(40) ${exact} NOT NULL,
   identifier_hash CHAR(64) ${exact} NOT NULL, identifier TEXT NOT NULL, raw MEDIUMTEXT NOT NULL,
   read_as MEDIUMTEXT, why TEXT, run INT UNSIGNED NOT NULL,
   UNIQUE KEY (source, identifier_hash), KEY (source, id),
   FOREIGN KEY (source) REFERENCES repositories(source) ON DELETE CASCADE) ${end}`,
]
