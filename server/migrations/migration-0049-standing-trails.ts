/** What stands is asked again by schedule: a sweep, or who cites works. What a run of the latter found, link by link. */
export const standingTrails: string[] = [
  'RENAME TABLE IF EXISTS standing_sweeps TO standing',
  `ALTER TABLE standing MODIFY query MEDIUMTEXT NULL, ADD COLUMN IF NOT EXISTS scope VARCHAR(20) NULL AFTER catalogues, ADD COLUMN IF NOT EXISTS subject INT UNSIGNED NULL AFTER scope`,
  `ALTER TABLE rounds ADD COLUMN IF NOT EXISTS standing_id INT UNSIGNED NULL, ADD COLUMN IF NOT EXISTS found_new INT UNSIGNED NULL, ADD INDEX IF NOT EXISTS by_standing (standing_id)`,
  `CREATE TABLE IF NOT EXISTS trail_news (round_id INT UNSIGNED NOT NULL, citing INT UNSIGNED NOT NULL, cited INT UNSIGNED NOT NULL, told BOOLEAN NOT NULL DEFAULT 0, PRIMARY KEY (round_id, citing, cited), KEY by_citing (citing), KEY by_cited (cited),
   CONSTRAINT news_round FOREIGN KEY (round_id) REFERENCES rounds (id) ON DELETE CASCADE, CONSTRAINT news_citing FOREIGN KEY (citing) REFERENCES nodes (id) ON DELETE CASCADE, CONSTRAINT news_cited FOREIGN KEY (cited) REFERENCES nodes (id) ON DELETE CASCADE) ENGINE=InnoDB`,
]
