const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** Vocabularies with their concepts; ways to these are told apart letter by letter, as they are folded already. */
export const vocabularies = [
  `CREATE TABLE IF NOT EXISTS vocabularies (
   id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NULL, site VARCHAR(40) NULL,
   file_name VARCHAR(255) NULL, name VARCHAR(255) NULL, hash CHAR(64) NULL,
   state ENUM('waiting','read','refused') NOT NULL DEFAULT 'waiting', said TEXT NULL,
   concepts INT UNSIGNED NOT NULL DEFAULT 0, labels INT UNSIGNED NOT NULL DEFAULT 0,
   languages JSON NOT NULL DEFAULT ('[]'), unshown JSON NOT NULL DEFAULT ('[]'), desk_day DATE NULL,
   at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
   UNIQUE KEY site (site), KEY hash (hash), FOREIGN KEY (inquiry_id) REFERENCES inquiries(id) ON DELETE CASCADE) ${end}`,
  `CREATE TABLE IF NOT EXISTS vocabulary_concepts (
   vocabulary_id INT UNSIGNED NOT NULL, place INT UNSIGNED NOT NULL, body JSON NOT NULL,
   PRIMARY KEY (vocabulary_id, place),
   FOREIGN KEY (vocabulary_id) REFERENCES vocabularies(id) ON DELETE CASCADE) ${end}`,
  `CREATE TABLE IF NOT EXISTS vocabulary_ways (
   vocabulary_id INT UNSIGNED NOT NULL, way VARCHAR(80) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
   place INT UNSIGNED NOT NULL, PRIMARY KEY (vocabulary_id, way, place),
   FOREIGN KEY (vocabulary_id) REFERENCES vocabularies(id) ON DELETE CASCADE) ${end}`,
]
