const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'
const tables = ['copies', 'passages', 'attempts', 'way_walks', 'loans', 'entries']

/** Of which work rows were before theirs was joined into another; those of works that are joined now go there. */
export const movedRows: string[] = [
  `CREATE TABLE IF NOT EXISTS moved_rows (
     of_table VARCHAR(20) CHARACTER SET ascii NOT NULL,
     row_id INT UNSIGNED NOT NULL,
     inquiry_id INT UNSIGNED NOT NULL,
     home_id INT UNSIGNED NOT NULL,
     PRIMARY KEY (of_table, row_id),
     KEY home (home_id, of_table),
     FOREIGN KEY (inquiry_id) REFERENCES inquiries(id) ON DELETE CASCADE) ${end}`,
  ...tables.flatMap(table => [
    `INSERT IGNORE INTO moved_rows (of_table, row_id, inquiry_id, home_id)
       SELECT '${table}', x.id, r.inquiry_id, r.id FROM records r JOIN ${table} x ON x.work_id = r.id
       WHERE r.work_id <> r.id`,
    `UPDATE IGNORE moved_rows m JOIN records r ON r.id = m.home_id JOIN ${table} x ON x.id = m.row_id
       SET x.work_id = r.work_id WHERE m.of_table = '${table}' AND r.work_id <> x.work_id`,
  ]),
  `UPDATE moved_rows m JOIN passages p ON p.id = m.row_id JOIN copies c ON c.id = p.copy_id
     JOIN copies d ON d.work_id = p.work_id AND d.hash = c.hash
     SET p.copy_id = d.id WHERE m.of_table = 'passages' AND c.work_id <> p.work_id`,
]
