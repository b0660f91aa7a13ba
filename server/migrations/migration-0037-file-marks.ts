const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** What others marked in the files of copies; of a copy of before, nothing until it is looked for. */
export const fileMarks: string[] = [
  `CREATE TABLE IF NOT EXISTS copy_marks (copy_id INT UNSIGNED NOT NULL PRIMARY KEY, told JSON NOT NULL,
   FOREIGN KEY (copy_id) REFERENCES copies(id) ON DELETE CASCADE) ${end}`,
]
