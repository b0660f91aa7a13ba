const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** Pages of scans as they were read by machine, so that reading goes on where it stopped. */
export const scans: string[] = [
  `CREATE TABLE IF NOT EXISTS copy_scans (copy_id INT UNSIGNED NOT NULL, page INT UNSIGNED NOT NULL, drawn JSON NOT NULL,
   PRIMARY KEY (copy_id, page), FOREIGN KEY (copy_id) REFERENCES copies(id) ON DELETE CASCADE) ${end}`,
]
