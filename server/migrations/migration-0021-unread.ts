const exact = 'CHARACTER SET ascii COLLATE ascii_bin'

/** Records of a sweep that could not be read, as they came, each with why. */
export const unread: string[] = [
  'ALTER TABLE sweep_catalogues ADD COLUMN IF NOT EXISTS unread INT UNSIGNED NOT NULL DEFAULT 0',
  `CREATE TABLE IF NOT EXISTS sweep_unread (sweep_id INT UNSIGNED NOT NULL, catalogue VARCHAR(40) ${exact} NOT NULL,
   position INT UNSIGNED NOT NULL, why TEXT NOT NULL, raw MEDIUMTEXT NOT NULL, PRIMARY KEY (sweep_id, catalogue, position),
   FOREIGN KEY (sweep_id, catalogue) REFERENCES sweep_catalogues(sweep_id, catalogue) ON DELETE CASCADE)
   ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
]
