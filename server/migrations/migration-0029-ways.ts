/**
 * Ways that were walked, step by step, terms of platforms that a student accepted on a day, and how
 * many files came through the gate.
 */
export const wayWalks: string[] = [
  `CREATE TABLE IF NOT EXISTS way_walks (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, work_id INT UNSIGNED NOT NULL, user_id INT UNSIGNED NOT NULL, url VARCHAR(1000) NOT NULL, by_gate BOOLEAN NOT NULL,
   ended VARCHAR(20) NOT NULL, said TEXT NOT NULL, steps JSON NOT NULL, desk_day DATE NOT NULL, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
   KEY by_work (work_id), CONSTRAINT way_walk_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE,
   CONSTRAINT way_walk_work FOREIGN KEY (work_id) REFERENCES works (id) ON DELETE CASCADE, CONSTRAINT way_walk_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS accepted_terms (user_id INT UNSIGNED NOT NULL, host VARCHAR(190) NOT NULL, desk_day DATE NOT NULL, PRIMARY KEY (user_id, host),
   CONSTRAINT terms_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS gate_files (user_id INT UNSIGNED NOT NULL, desk_day DATE NOT NULL, files INT UNSIGNED NOT NULL, PRIMARY KEY (user_id, desk_day),
   CONSTRAINT gate_files_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE) ENGINE=InnoDB`,
]
