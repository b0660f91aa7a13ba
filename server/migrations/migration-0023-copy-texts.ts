const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** What a copy was taken apart into; null for copies of before, which are read when somebody asks. */
export const copyTexts: string[] = [
  'ALTER TABLE copies ADD COLUMN IF NOT EXISTS parts JSON AFTER signs',
  `CREATE TABLE IF NOT EXISTS copy_references (copy_id INT UNSIGNED NOT NULL, n INT UNSIGNED NOT NULL, label VARCHAR(40),
   text TEXT NOT NULL, boxes JSON NOT NULL, item JSON NOT NULL, sure JSON NOT NULL, PRIMARY KEY (copy_id, n),
   FOREIGN KEY (copy_id) REFERENCES copies(id) ON DELETE CASCADE) ${end}`,
  // a file that is to find its work by its own text
  'ALTER TABLE uploads MODIFY work_id INT UNSIGNED NULL',
]
