const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** How somebody works on an inquiry, how long they stayed on the pages of its copies, and what they say they have read. */
export const rhythm: string[] = [
  `ALTER TABLE inquiries ADD COLUMN IF NOT EXISTS rhythm JSON NULL AFTER rules`,
  `CREATE TABLE IF NOT EXISTS page_times (user_id INT UNSIGNED NOT NULL, copy_id INT UNSIGNED NOT NULL,
   page INT UNSIGNED NOT NULL, seconds INT UNSIGNED NOT NULL, PRIMARY KEY (user_id, copy_id, page), KEY (copy_id),
   FOREIGN KEY (user_id) REFERENCES users(id) ON DELETE CASCADE,
   FOREIGN KEY (copy_id) REFERENCES copies(id) ON DELETE CASCADE) ${end}`,
  `CREATE TABLE IF NOT EXISTS works_read (work_id INT UNSIGNED NOT NULL PRIMARY KEY,
   at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
   FOREIGN KEY (work_id) REFERENCES works(id) ON DELETE CASCADE) ${end}`,
]
