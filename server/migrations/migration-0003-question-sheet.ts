/** The question sheet of an inquiry, names of sweeps, and counts that catalogues gave, kept for a day. */
export const questionSheet: string[] = [
  `ALTER TABLE inquiries ADD COLUMN IF NOT EXISTS sheet JSON NULL, ADD COLUMN IF NOT EXISTS sheet_version INT UNSIGNED NOT NULL DEFAULT 1`,
  `ALTER TABLE sweeps ADD COLUMN IF NOT EXISTS name VARCHAR(190) NULL, ADD COLUMN IF NOT EXISTS note TEXT NULL`,
  `CREATE TABLE IF NOT EXISTS counts (catalogue VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, query_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, desk_day DATE NOT NULL,
   count INT UNSIGNED NOT NULL, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), PRIMARY KEY (catalogue, query_hash, desk_day)) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci`,
]
