/** What others said of the works of an author or a grant, and of the data behind a work. */
export const follows: string[] = [
  `CREATE TABLE IF NOT EXISTS follows (id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, what VARCHAR(20) NOT NULL,
   subject VARCHAR(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL, source VARCHAR(190) NOT NULL, total INT UNSIGNED NOT NULL, got INT UNSIGNED NOT NULL, trouble VARCHAR(190) NULL, day DATE NOT NULL,
   UNIQUE KEY (inquiry_id, what, subject), CONSTRAINT follows_of FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS follow_hits (follow_id INT UNSIGNED NOT NULL, node_id INT UNSIGNED NOT NULL, PRIMARY KEY (follow_id, node_id), KEY (node_id),
   CONSTRAINT hits_follow FOREIGN KEY (follow_id) REFERENCES follows (id) ON DELETE CASCADE, CONSTRAINT hits_node FOREIGN KEY (node_id) REFERENCES nodes (id) ON DELETE CASCADE) ENGINE=InnoDB`,
]
