const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'
const of = `work_id INT UNSIGNED NOT NULL,
     user_id INT UNSIGNED NOT NULL,
     inquiry_id INT UNSIGNED NOT NULL`
const keys = `at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
     PRIMARY KEY (work_id, user_id),
     FOREIGN KEY (work_id) REFERENCES works(id) ON DELETE CASCADE,
     FOREIGN KEY (user_id) REFERENCES users(id) ON DELETE CASCADE,
     FOREIGN KEY (inquiry_id) REFERENCES inquiries(id) ON DELETE CASCADE`

/** Texts that are fetched by themselves, and letters to authors. */
export const awaited: string[] = [
  `CREATE TABLE IF NOT EXISTS awaited (
     ${of},
     from_day DATE NOT NULL,
     why VARCHAR(12) NOT NULL,
     gate VARCHAR(40) NULL,
     ${keys},
     KEY (from_day)) ${end}`,
  `CREATE TABLE IF NOT EXISTS author_letters (
     ${of},
     wrote LONGTEXT NOT NULL CHECK (JSON_VALID(wrote)),
     declined BOOLEAN NOT NULL DEFAULT FALSE,
     ${keys}) ${end}`,
]
