const exact = 'CHARACTER SET ascii COLLATE ascii_bin'
const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** What is asked for from elsewhere, and all that befell it: what was done here, and what its office said, each once. */
export const loans: string[] = [
  `CREATE TABLE IF NOT EXISTS loans (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, work_id INT UNSIGNED NOT NULL, user_id INT UNSIGNED NOT NULL,
   library VARCHAR(40) ${exact} NOT NULL, kind VARCHAR(10) ${exact} NOT NULL, request CHAR(36) ${exact} NOT NULL, item JSON NOT NULL, note TEXT NOT NULL, any_edition BOOLEAN NOT NULL,
   state VARCHAR(20) NOT NULL, took DOUBLE NULL, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
   UNIQUE KEY loan_request (request), KEY loan_work (work_id, id), KEY loan_user (user_id, id), KEY loan_library (library, id),
   CONSTRAINT loan_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE,
   CONSTRAINT loan_of_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE CASCADE) ${end}`,
  `CREATE TABLE IF NOT EXISTS loan_events (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, loan_id INT UNSIGNED NOT NULL, what VARCHAR(20) ${exact} NOT NULL, at DATETIME(3) NOT NULL,
   said TEXT NOT NULL, until DATE NULL, url VARCHAR(1000) NULL, hash CHAR(64) ${exact} NULL, after_id INT UNSIGNED NULL,
   UNIQUE KEY loan_message (loan_id, hash), CONSTRAINT loan_of_event FOREIGN KEY (loan_id) REFERENCES loans (id) ON DELETE CASCADE) ${end}`,
]
