const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** When libraries are open, as their calendars said last. */
export const hours: string[] = [
  `CREATE TABLE IF NOT EXISTS library_hours (library VARCHAR(40) NOT NULL, branch VARCHAR(200) NOT NULL,
   addresses VARCHAR(1010) NOT NULL, hours JSON NULL, trouble TEXT NULL, desk_day DATE NOT NULL,
   at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), PRIMARY KEY (library, branch)) ${end}`,
]
