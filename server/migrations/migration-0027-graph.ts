import { QueryTypes, type Sequelize } from 'sequelize'
import type { Facts, Item } from '../../core/bib/item'
import { describeWork } from '../../core/sift/describe'
import { readJson } from '../db/rows'
import { keyOfNode } from '../trace/node-key'

/** The graph of citations as rows; a record is found by its DOI, so that pointers and works of the pool meet. */
export const graph: string[] = [
  `ALTER TABLE records ADD COLUMN IF NOT EXISTS doi VARCHAR(190) AS (LEFT(JSON_VALUE(item, '$.DOI'), 190)) VIRTUAL`,
  'ALTER TABLE records ADD INDEX IF NOT EXISTS by_doi (inquiry_id, doi)',
  `CREATE TABLE IF NOT EXISTS rounds (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, n INT UNSIGNED NULL, scope VARCHAR(20) NOT NULL, subject INT UNSIGNED NULL,
   day DATE NOT NULL, job_id INT UNSIGNED NULL, planned INT UNSIGNED NOT NULL, most INT UNSIGNED NOT NULL, calls INT UNSIGNED NOT NULL DEFAULT 0, at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
   KEY by_inquiry (inquiry_id), CONSTRAINT round_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS nodes (id INT UNSIGNED AUTO_INCREMENT PRIMARY KEY, inquiry_id INT UNSIGNED NOT NULL, node_key CHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, doi VARCHAR(190) COLLATE utf8mb4_bin NULL, record_id INT UNSIGNED NULL,
   item JSON NOT NULL, facts JSON NOT NULL, line JSON NOT NULL, kind VARCHAR(40) NOT NULL, confidence DOUBLE NOT NULL, round_id INT UNSIGNED NULL,
   UNIQUE KEY one (inquiry_id, node_key), KEY by_doi (inquiry_id, doi), KEY by_record (record_id), CONSTRAINT node_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE,
   CONSTRAINT node_record FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE SET NULL, CONSTRAINT node_round FOREIGN KEY (round_id) REFERENCES rounds (id) ON DELETE SET NULL) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS citations (inquiry_id INT UNSIGNED NOT NULL, citing INT UNSIGNED NOT NULL, cited INT UNSIGNED NOT NULL, said_by VARCHAR(12) NOT NULL, round_id INT UNSIGNED NULL, day DATE NOT NULL,
   PRIMARY KEY (inquiry_id, citing, cited, said_by), KEY by_citing (citing), KEY by_cited (cited), CONSTRAINT citation_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE,
   CONSTRAINT citation_citing FOREIGN KEY (citing) REFERENCES nodes (id) ON DELETE CASCADE, CONSTRAINT citation_cited FOREIGN KEY (cited) REFERENCES nodes (id) ON DELETE CASCADE) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS walks (round_id INT UNSIGNED NOT NULL, node_id INT UNSIGNED NOT NULL, direction VARCHAR(12) NOT NULL, inquiry_id INT UNSIGNED NOT NULL, total INT UNSIGNED NOT NULL DEFAULT 0, got INT UNSIGNED NOT NULL DEFAULT 0,
   trouble VARCHAR(500) NULL, day DATE NULL, PRIMARY KEY (round_id, node_id, direction), KEY by_node (node_id), KEY by_inquiry (inquiry_id), CONSTRAINT walk_round FOREIGN KEY (round_id) REFERENCES rounds (id) ON DELETE CASCADE,
   CONSTRAINT walk_node FOREIGN KEY (node_id) REFERENCES nodes (id) ON DELETE CASCADE, CONSTRAINT walk_inquiry FOREIGN KEY (inquiry_id) REFERENCES inquiries (id) ON DELETE CASCADE) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS field_years (connector VARCHAR(40) NOT NULL, field VARCHAR(100) NOT NULL, year SMALLINT UNSIGNED NOT NULL, works INT UNSIGNED NOT NULL, counts JSON NOT NULL, day DATE NOT NULL, PRIMARY KEY (connector, field, year)) ENGINE=InnoDB`,
]

interface Old {
  workId: number
  inquiryId: number
  direction: 'references' | 'cited-by'
  total: number
  neighbours: string
  day: string
  item: Item | string
  facts: Facts | string
}
type OldNeighbour = { item: Item; citedBy?: number; references?: number; genre?: string; refereedVenue?: boolean }

/** Trails of before, which were lists: each becomes a look at its work, with its neighbours as nodes. */
export async function trailsToRows(sequelize: Sequelize): Promise<void> {
  const [there] = await sequelize.query<{ n: number }>(
    `SELECT COUNT(*) AS n FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'trails'`,
    { type: QueryTypes.SELECT },
  )
  if (!there?.n) return
  for (;;) {
    const [old] = await sequelize.query<Old>(
      `SELECT t.work_id AS workId, t.inquiry_id AS inquiryId, t.direction, t.total, t.neighbours, DATE_FORMAT(t.at, '%Y-%m-%d') AS day, w.item, w.facts
       FROM trails t JOIN works w ON w.id = t.work_id LIMIT 1`,
      { type: QueryTypes.SELECT },
    )
    if (!old) break
    await sequelize.transaction(async transaction => {
      const put = async (sql: string, replacements: Record<string, unknown>) =>
        Number((await sequelize.query(sql, { replacements, transaction, type: QueryTypes.INSERT }))[0])
      const { inquiryId, day, direction } = old
      const round = await put(
        `INSERT INTO rounds (inquiry_id, n, scope, subject, day, planned, most, calls) VALUES (:inquiryId, NULL, 'work', :workId, :day, 0, 0, 0)`,
        { inquiryId, workId: old.workId, day },
      )
      const node = (item: Item, facts: Facts) => {
        const { line, kind, confidence } = describeWork([{ id: 0, item, facts }])
        return put(
          `INSERT INTO nodes (inquiry_id, node_key, doi, item, facts, line, kind, confidence, round_id) VALUES (:inquiryId, :key, LEFT(:doi, 190), :item, :facts, :line, :kind, :confidence, :round)
           ON DUPLICATE KEY UPDATE id = LAST_INSERT_ID(id)`,
          {
            ...{ inquiryId, key: keyOfNode(item), doi: item.DOI ?? null, kind, confidence, round },
            ...{ item: JSON.stringify(item), facts: JSON.stringify(facts), line: JSON.stringify(line) },
          },
        )
      }
      const origin = await node(readJson(old.item), readJson(old.facts))
      const neighbours = JSON.parse(old.neighbours) as OldNeighbour[]
      for (const { item, citedBy, references, ...facts } of neighbours) {
        const other = await node(item, {
          ...facts,
          ...(citedBy === undefined ? {} : { citedByCount: citedBy }),
          ...(references === undefined ? {} : { referenceCount: references }),
        })
        const [citing, cited] = direction === 'references' ? [origin, other] : [other, origin]
        await put(
          `INSERT INTO citations (inquiry_id, citing, cited, said_by, round_id, day) VALUES (:inquiryId, :citing, :cited, 'index', :round, :day) ON DUPLICATE KEY UPDATE day = day`,
          { inquiryId, citing, cited, round, day },
        )
      }
      await put(
        `INSERT INTO walks (round_id, node_id, direction, inquiry_id, total, got, day) VALUES (:round, :origin, :direction, :inquiryId, :total, :got, :day)`,
        { round, origin, direction, inquiryId, total: old.total, got: neighbours.length, day },
      )
      await sequelize.query('DELETE FROM trails WHERE work_id = :workId AND direction = :direction', {
        replacements: { workId: old.workId, direction },
        transaction,
      })
    })
  }
  await sequelize.query('DROP TABLE trails')
}
