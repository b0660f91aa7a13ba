const end = 'ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci'

/** Of a copy of before: whose inquiry it is. */
const OWNER = `(SELECT MIN(m.user_id) FROM memberships m WHERE m.inquiry_id = c.inquiry_id AND m.role = 'owner')`
const FILL = 'INSERT IGNORE INTO copy_rights (copy_id, user_id, kind, source)'
const hasWalk = (byGate: number) =>
  `EXISTS (SELECT 1 FROM way_walks w WHERE w.work_id = c.work_id AND w.ended = 'taken' AND w.by_gate = ${byGate})`
const isFetched = `c.origin NOT LIKE 'your file %' AND c.origin NOT LIKE 'a scan from %'`

/**
 * By whose right a copy is here; user 0 is every member. Of copies of before it follows from where they came from; what
 * is not known to have come without a gate is its owner's alone.
 */
export const copyRights: string[] = [
  `CREATE TABLE IF NOT EXISTS copy_rights (
     copy_id INT UNSIGNED NOT NULL,
     user_id INT UNSIGNED NOT NULL,
     kind VARCHAR(12) NOT NULL,
     source VARCHAR(500) NOT NULL,
     until DATE NULL,
     at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
     PRIMARY KEY (copy_id, user_id, kind),
     FOREIGN KEY (copy_id) REFERENCES copies(id) ON DELETE CASCADE) ${end}`,
  `${FILL} SELECT c.id, ${OWNER}, 'own', c.origin FROM copies c
   WHERE c.origin LIKE 'your file %' AND ${OWNER} IS NOT NULL`,
  `${FILL} SELECT c.id, COALESCE((SELECT MAX(l.user_id) FROM loans l WHERE l.work_id = c.work_id), ${OWNER}), 'loan',
     SUBSTRING(c.origin, CHAR_LENGTH('a scan from ') + 1)
   FROM copies c WHERE c.origin LIKE 'a scan from %' AND ${OWNER} IS NOT NULL`,
  `${FILL} SELECT c.id, 0, 'open', CONCAT('a copy at ', SUBSTRING_INDEX(SUBSTRING_INDEX(c.origin, '/', 3), '//', -1))
   FROM copies c WHERE ${isFetched} AND ${hasWalk(0)} AND NOT ${hasWalk(1)}`,
  `${FILL} SELECT c.id, COALESCE((SELECT MAX(w.user_id) FROM way_walks w
     WHERE w.work_id = c.work_id AND w.ended = 'taken' AND w.by_gate = 1), ${OWNER}), 'licence', 'its library'
   FROM copies c WHERE ${isFetched} AND NOT (${hasWalk(0)} AND NOT ${hasWalk(1)}) AND ${OWNER} IS NOT NULL`,
]
