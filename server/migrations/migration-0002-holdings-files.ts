/** A library has many holdings files: each is kept under its own address. */
export const holdingsFiles: string[] = [
  'DROP TABLE IF EXISTS holdings',
  `CREATE TABLE IF NOT EXISTS holdings_files (address VARCHAR(500) CHARACTER SET ascii COLLATE ascii_bin NOT NULL PRIMARY KEY,
   content MEDIUMTEXT NOT NULL, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
]
