const exact = 'CHARACTER SET ascii COLLATE ascii_bin'
const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** A library's holdings are rows, found by what a title is found by; each file says what was read of it. */
export const holdingLines: string[] = [
  'DROP TABLE IF EXISTS holding_keys',
  'DROP TABLE IF EXISTS holding_lines',
  'DROP TABLE IF EXISTS holdings_files',
  `CREATE TABLE holdings_files (id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, address VARCHAR(500) ${exact} NOT NULL UNIQUE,
   hash CHAR(64) ${exact} NOT NULL, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), read_hash CHAR(64) ${exact} NULL,
   report JSON NULL, CONSTRAINT holdings_blob FOREIGN KEY (hash) REFERENCES blobs (hash)) ${end}`,
  `CREATE TABLE holding_lines (file_id INT UNSIGNED NOT NULL, line INT UNSIGNED NOT NULL, held JSON NOT NULL,
   PRIMARY KEY (file_id, line), FOREIGN KEY (file_id) REFERENCES holdings_files (id) ON DELETE CASCADE) ${end}`,
  `CREATE TABLE holding_keys (file_id INT UNSIGNED NOT NULL, found INT UNSIGNED NOT NULL, line INT UNSIGNED NOT NULL,
   PRIMARY KEY (file_id, found, line)) ${end}`,
]
