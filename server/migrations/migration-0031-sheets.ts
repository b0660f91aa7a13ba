/** Sheets of reading: what a student wrote of a work under a head, and heads of their own. */
export const sheetsOfReading: string[] = [
  `CREATE TABLE IF NOT EXISTS reading_heads (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, name VARCHAR(80) NOT NULL, place SMALLINT UNSIGNED NOT NULL, gone BOOLEAN NOT NULL DEFAULT 0,
   CONSTRAINT head_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS reading_notes (work_id INT UNSIGNED NOT NULL, head VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, inquiry_id INT UNSIGNED NOT NULL, content MEDIUMTEXT NOT NULL, version INT UNSIGNED NOT NULL,
   at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3), PRIMARY KEY (work_id, head), KEY by_inquiry (inquiry_id),
   CONSTRAINT note_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE, CONSTRAINT note_work FOREIGN KEY (work_id) REFERENCES works (id) ON DELETE CASCADE) ENGINE=InnoDB`,
]
