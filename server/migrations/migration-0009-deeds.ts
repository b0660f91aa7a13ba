/**
 * Decisions and marks become kinds of one log. The old tables go in the next migration, so that this one can be run
 * again.
 */
const exact = 'CHARACTER SET ascii COLLATE ascii_bin'
const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

export const deeds: string[] = [
  `CREATE TABLE IF NOT EXISTS deeds (n INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, id CHAR(36) ${exact} NOT NULL, group_id CHAR(36) ${exact} NOT NULL, inquiry_id INT UNSIGNED NOT NULL, work_id INT UNSIGNED NOT NULL,
   kind VARCHAR(20) ${exact} NOT NULL, about VARCHAR(120) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL, value JSON NULL, undoes CHAR(36) ${exact} NULL, user_id INT UNSIGNED NULL, revision INT UNSIGNED NOT NULL,
   at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), UNIQUE KEY by_id (id), KEY by_group (group_id), KEY by_work (work_id), KEY by_inquiry (inquiry_id, n), UNIQUE KEY once_undone (undoes, work_id),
   CONSTRAINT deed_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE, CONSTRAINT deed_work FOREIGN KEY (work_id) REFERENCES works (id) ON DELETE CASCADE,
   CONSTRAINT deed_user FOREIGN KEY (user_id) REFERENCES users (id) ON DELETE SET NULL) ${end}`,
  // both logs in the order of time; where a step took back lines of both, one line of the new log says so
  `INSERT INTO deeds (id, group_id, inquiry_id, work_id, kind, about, value, undoes, user_id, revision, at)
   SELECT id, group_id, inquiry_id, work_id, kind, about, value, undoes, user_id, revision, at FROM (
     SELECT all_lines.*, ROW_NUMBER() OVER (PARTITION BY COALESCE(undoes, id), work_id ORDER BY at, source, n) AS copy FROM (
       SELECT n, 1 AS source, id, group_id, inquiry_id, work_id, IF(undoes IS NULL, 'decision', 'undo') AS kind, IF(undoes IS NULL, pass, '') AS about,
         IF(undoes IS NULL, JSON_OBJECT('choice', choice, 'reason', reason), 'null') AS value, undoes, user_id, revision, at FROM decisions
       UNION ALL
       SELECT n, 2, id, group_id, inquiry_id, work_id, CASE WHEN undoes IS NOT NULL THEN 'undo' WHEN about LIKE 'pair:%' THEN 'pair' ELSE 'mark' END,
         CASE WHEN undoes IS NOT NULL THEN '' WHEN about LIKE 'pair:%' THEN SUBSTR(about, 6) ELSE about END, IF(undoes IS NULL, COALESCE(value, 'null'), 'null'), undoes, user_id, revision, at FROM marks
     ) all_lines
   ) lines_once
   WHERE copy = 1 AND NOT EXISTS (SELECT 1 FROM deeds d) AND EXISTS (SELECT 1 FROM works w WHERE w.id = work_id) ORDER BY at, revision, source, n`,
]

export const oldLogs: string[] = ['DROP TABLE IF EXISTS decisions', 'DROP TABLE IF EXISTS marks']
