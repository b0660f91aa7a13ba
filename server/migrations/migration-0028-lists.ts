/** Lists of references that come without a database, and what each entry was found to mean. */
export const lists: string[] = [
  `CREATE TABLE IF NOT EXISTS lists (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, name VARCHAR(200) NOT NULL, copy_id INT UNSIGNED NULL, record_id INT UNSIGNED NULL,
   cut_by VARCHAR(30) NOT NULL DEFAULT '', said_by VARCHAR(12) NOT NULL, pasted MEDIUMTEXT NULL, job_id INT UNSIGNED NULL, day DATE NOT NULL, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
   KEY by_inquiry (inquiry_id), KEY by_record (record_id), CONSTRAINT list_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE,
   CONSTRAINT list_copy FOREIGN KEY (copy_id) REFERENCES copies (id) ON DELETE SET NULL, CONSTRAINT list_record FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE SET NULL) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS list_entries (list_id INT UNSIGNED NOT NULL, n INT UNSIGNED NOT NULL, label VARCHAR(60) NULL, text TEXT NOT NULL, page INT UNSIGNED NULL, item JSON NOT NULL, sure JSON NOT NULL, others BOOLEAN NOT NULL,
   looked BOOLEAN NOT NULL DEFAULT 0, matches JSON NOT NULL, by_hand BOOLEAN NOT NULL DEFAULT 0, node_id INT UNSIGNED NULL, missing VARCHAR(500) NULL,
   PRIMARY KEY (list_id, n), KEY by_node (node_id), CONSTRAINT entry_list FOREIGN KEY (list_id) REFERENCES lists (id) ON DELETE CASCADE,
   CONSTRAINT entry_node FOREIGN KEY (node_id) REFERENCES nodes (id) ON DELETE SET NULL) ENGINE=InnoDB`,
]
